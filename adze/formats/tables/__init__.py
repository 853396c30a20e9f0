"""Tables and XML as other programs write them: CSV, workbooks."""
