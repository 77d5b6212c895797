"""What travels over HTTP, checked at the border."""
