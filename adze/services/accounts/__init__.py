"""Accounts: sign-in, passwords, passkeys, the mail address of one's own."""
