"""Settings, root addresses, WSGI: knows every app and is known by none."""
