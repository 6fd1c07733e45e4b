"""Help in the application, offline: a guide for each station, a glossary, the keys, the cautions."""
