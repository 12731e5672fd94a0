from shop.casework import stage


class InspectionStage(stage.Stage):
    name = "shop.stages.inspection"
