from shop.casework import stage


class ArrowStage(stage.Stage):
    name = "shop.stages.arrow"
