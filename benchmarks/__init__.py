"""What the product costs, as ratios against peers measured in the same run."""
