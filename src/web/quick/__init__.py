"""Quick sheets: one calculation each, without a job: found by its question, asked, drawn, kept."""
