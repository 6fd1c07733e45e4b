"""Keep and carry: a rig, a sight or the levels as a file, out and in; every log as CSV."""
