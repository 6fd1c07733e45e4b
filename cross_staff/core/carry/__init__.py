"""A rig, a sight model or the shop's instruments as a file: what it holds and cannot hold, how it lies to this shop."""
