"""What is measured in pictures: focus, softness, motion, exposure, likeness, faces, and where a
subject is."""
