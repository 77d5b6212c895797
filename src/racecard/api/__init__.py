"""The HTTP door: endpoints translate, the core decides."""
