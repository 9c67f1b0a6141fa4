"""What effects there are: one file each, with parameters, a program in the kernel, a sample and a line of help."""
