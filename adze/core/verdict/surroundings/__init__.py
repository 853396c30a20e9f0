"""What stands beside the fence, over it and around its energizer."""
