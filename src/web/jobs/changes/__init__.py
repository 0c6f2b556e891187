"""Every change to a job: one writing service, what is judged before it is kept, what is said, and taken back."""
