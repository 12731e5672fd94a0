from shop.casework import stage


class SpeedStage(stage.Stage):
    name = "shop.stages.speed"
