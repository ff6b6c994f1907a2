"""How the pictures of the demo shoot were rendered; see README.md here."""
