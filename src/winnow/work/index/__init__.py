"""From folders to frames with facts, pictures, groups, faces and hints."""
