from shop.casework import stage


class FitStage(stage.Stage):
    name = "shop.stages.fit"
