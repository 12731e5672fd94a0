from shop.casework import stage


class ShootingInStage(stage.Stage):
    name = "shop.stages.shooting_in"
