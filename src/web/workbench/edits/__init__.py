"""Changes to a job: asked by a page, planned, judged, kept, and answered with what they changed."""
