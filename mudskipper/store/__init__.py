"""What is kept: projects, scenes, revisions, pictures and export jobs, in SQLite through peewee."""
