"""Rows of mails and notices that wait to be sent."""
