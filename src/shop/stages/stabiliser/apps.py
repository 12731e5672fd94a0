from shop.casework import stage


class StabiliserStage(stage.Stage):
    name = "shop.stages.stabiliser"
