"""Mount: the planner, the steps, witness marks."""
