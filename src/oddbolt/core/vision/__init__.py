"""What a photo tells: the gauge mat found in it, lengths measured on it, screws counted and measured."""
