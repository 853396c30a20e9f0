"""What each stage shows: everything that its page of the workbench names, gathered and worded."""
