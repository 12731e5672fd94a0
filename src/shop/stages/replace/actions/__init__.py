"""What is done at the press: each action checks who, when and whether, then writes facts."""
