"""The beam file, part by part: what each says becomes what the core knows."""
