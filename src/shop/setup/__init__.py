"""Getting ready to serve: migrations, static files, work that was interrupted."""
