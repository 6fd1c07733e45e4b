"""What all stations draw with: rendering, words, downloads, PDF type, log, staleness."""
