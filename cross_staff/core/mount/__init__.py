"""Mount: the planner of hole, extension and home; the steps of mounting."""
