"""Cross-sections: geometry as strips, laws of concrete and steel, resistance, cracked section. No code, no
stations."""
