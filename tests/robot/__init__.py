"""The robot technician: takes any job through the HTTP application, and minds what the pages say."""
