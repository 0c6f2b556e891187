"""What goes in and out of a job as files, and on paper."""
