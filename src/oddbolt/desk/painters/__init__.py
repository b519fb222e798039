"""Widgets that draw: screws, strata, the route ribbon, the photo with its callouts. A painter only paints."""
