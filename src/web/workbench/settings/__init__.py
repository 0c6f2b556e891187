"""Settings of a job, the people who share it, and what another code would do to it."""
