"""What a desktop wants to know of the program: menu entry, icon, file type, and the data of a software catalogue."""
