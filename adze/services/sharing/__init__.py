"""Who else may see or change a farm: members, invitations, links to look at a plan."""
