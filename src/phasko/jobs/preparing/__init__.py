"""Before the first capture: the complaint, the plan of tests, the hook-up."""
