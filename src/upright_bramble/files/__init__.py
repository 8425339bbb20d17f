"""Reading and writing: beam file, layout file, result.json. Faults are told with file, line, key and cure."""
