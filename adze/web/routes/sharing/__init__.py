"""Routes of members and invitations."""
