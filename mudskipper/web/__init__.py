"""The web layer: routers, live socket, security; thin."""
