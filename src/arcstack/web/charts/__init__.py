"""Series worked on the server and drawn in the browser."""
