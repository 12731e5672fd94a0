from shop.casework import stage


class StringSetStage(stage.Stage):
    name = "shop.stages.string_set"
