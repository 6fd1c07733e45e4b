"""That nothing is lost: backups by hand and by night, restoring, and the write-ahead log brought home when idle."""
