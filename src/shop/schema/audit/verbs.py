"""Every kind of act that the log knows."""

KINDS_OF_ACT = (
    "answer_shop", "ask_signature", "bolts_back", "cancel", "cancel_fit", "change", "change_customer",
    "change_module", "change_order", "change_role", "check_in", "check_part", "choose_policy", "choose_press",
    "choose_replacement", "draw_curve", "fit_curve", "forget_second_step", "hand_over", "import_record",
    "inspect", "invite", "leave_it", "let_down", "let_in", "lift_hold", "move_bow", "move_over", "note",
    "open_press", "order_set", "photo", "read", "reopen", "reset_password", "send_back", "set_active",
    "set_arrived", "set_tool", "take_on", "tray",
)  # fmt: skip
