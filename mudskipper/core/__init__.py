"""The rules of the job and all its computation: no screen, no web, no database, no drawing library."""
