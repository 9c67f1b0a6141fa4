"""Code for boards: the show as C99 and as Python for small boards, playing the very same frames."""
