"""Routes of sign-in and the account."""
