"""The page of help, offline: a guide for each station, a glossary, the keys, the cautions, searched by words."""
