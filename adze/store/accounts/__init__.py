"""Rows of accounts: sessions, passkeys, tries to sign in, quotas."""
