from shop.casework import stage


class BackToSpecStage(stage.Stage):
    name = "shop.stages.back_to_spec"
