"""What stands around the pages: the window, its menus, rail and sill."""
