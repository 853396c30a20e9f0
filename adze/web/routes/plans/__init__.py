"""Routes of farms and plans: pages, operations, pieces of panels, files, searches."""
