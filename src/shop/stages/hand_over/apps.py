from shop.casework import stage


class HandOverStage(stage.Stage):
    name = "shop.stages.hand_over"
