"""What help has to say, and where pages link to it: guides, words, keys, cautions."""
