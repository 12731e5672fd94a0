"""Cautions, in plain words, each at the place where it applies. The maker's manual outranks them."""

ON_THE_DRAW_BOARD = (
    "Draw only on the draw board or with a nocked arrow toward a safe backstop. Never dry-fire."
)
PRESS_OPEN = (
    "Only a press that suits this bow, by its maker's instructions. Eye protection on.",
    "Hands and face out of the plane of the string while load comes on or off.",
    "Limb tips supported, fingers off the cams, only as much pressure as frees the string.",
)
LET_DOWN = (
    "Keep tension on the string by hand and let down slowly. Listen for a pop, look again at every "
    "groove while the load comes on."
)
DO_NOT_DRAW = "Do not draw this bow."
SERVICE = "Limb, riser and cam damage goes to the maker or authorised service."
FIRST_DRAW = (
    "Draw it a few times gently before the first reading: on the draw board, or with a nocked arrow "
    "toward a safe backstop."
)
BEFORE_SHOOTING = (
    "A safe backstop behind the target, nobody in front of the line. Flex each carbon arrow and listen; one "
    "that cracks or creaks is not shot."
)
AT_THE_CHRONOGRAPH = (
    "A butt behind the chronograph, the arrow clear of it, nobody in front of the line. No arrow below the "
    "least mass."
)
AT_THE_SHAFT = (
    "Flex each carbon shaft and listen, then turn it and flex again: one that creaks, is split or is crushed "
    "is not shot and is broken in two."
)
AT_THE_SAW = (
    "Eye protection and dust mask at the saw. Flex each carbon shaft after the cut and listen; one that "
    "creaks is broken in two. A cut arrow is lighter: weigh it against the least mass before it is shot."
)
MANUAL = "The maker's manual and the local rules outrank this sheet."
AT_HAND_OVER = (
    "Never dry-fire it, and never shoot an arrow below the maker's minimum mass.",
    "Look over string, cables and limbs before each session; with a broken strand, do not draw it.",
    MANUAL,
)
NEW_STRING_SETTLES = (
    "A new string settles over the first shots: weight, timing and peep may move a little."
)
