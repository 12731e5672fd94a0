from shop.casework import stage


class BaselineStage(stage.Stage):
    name = "shop.stages.baseline"
