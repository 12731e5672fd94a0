from shop.casework import stage


class ReplaceStage(stage.Stage):
    name = "shop.stages.replace"
