"""Small simulated stand-ins for devices, which ship with the application."""
