"""Springs, links, corner weights: how high a car stands, how its wheels move and what each carries."""
