"""Makes the demo shoot: the lantern evening at Saltmarsh Quay, which never took place."""
