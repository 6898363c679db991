"""Parts of every family: what they are made of, how a line names them, how they are judged, what they drag along."""
