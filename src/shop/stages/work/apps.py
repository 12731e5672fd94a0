from shop.casework import stage


class WorkStage(stage.Stage):
    name = "shop.stages.work"
