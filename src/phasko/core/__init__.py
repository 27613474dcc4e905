"""The job itself: documents, measurement and call. No interface, no files, no database in here."""
