from shop.casework import stage


class CheckInStage(stage.Stage):
    name = "shop.stages.check_in"
