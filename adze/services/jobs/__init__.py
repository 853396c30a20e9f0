"""What is done later: the queue of jobs, mails and notices to a browser."""
