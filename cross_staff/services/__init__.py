"""One use case a function: read storage, call core, write storage, in one transaction."""
