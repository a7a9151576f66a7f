"""What a screen needs of a model: the scene, triangles as packets, pictures, and words about what is picked."""
