"""What stands at the bench and can be asked; a simulated one of each ships."""
