"""Films read in child processes with limits. They import nothing of the application, so that they are there at once."""
