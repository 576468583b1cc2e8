"""Plans and the notebook as files: written out, looked over, taken in; backup and check."""
