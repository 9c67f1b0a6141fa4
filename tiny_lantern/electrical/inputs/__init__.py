"""What a person turns or presses: readings of knobs and sensors."""
