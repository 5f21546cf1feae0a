"""Practice: the stages in which a piece is learned. (Ladder and log come later.)"""
