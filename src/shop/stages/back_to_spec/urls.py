"""Addresses of the plan and of the bow's page."""

from django.urls import path

from shop.stages.back_to_spec import bow_views, cam_views, views

urlpatterns = [
    path("<int:job_id>/module/", views.ChangeModuleView.as_view(), name="change_module"),
    path("<int:job_id>/plan/accept/", views.AcceptPlanView.as_view(), name="accept_plan"),
    path("<int:job_id>/plan/policy/", views.ChoosePolicyView.as_view(), name="choose_policy"),
    path("<int:job_id>/plan/corrected/", views.CorrectChangeView.as_view(), name="correct_change"),
    path("<int:job_id>/plan/policies/", views.policies, name="policies"),
    path("<int:job_id>/plan.json", views.question, name="question"),
    path("<int:job_id>/plan/surer/", cam_views.surer, name="surer"),
    path("<int:job_id>/cam/", cam_views.cam, name="cam"),
    path("<int:job_id>/cam/measured/", cam_views.MeasureCamView.as_view(), name="measure_cam"),
    path("<int:job_id>/bow/", bow_views.bow, name="bow"),
    path("<int:job_id>/bow/drawn/", bow_views.drawn, name="bow_drawn"),
    path("<int:job_id>/bow/pattern/", bow_views.pattern, name="pattern"),
    path("<int:job_id>/bow/curve/", bow_views.KeepCurveView.as_view(), name="keep_curve"),
    path("<int:job_id>/bow/fit/", bow_views.FitCurveView.as_view(), name="fit_curve"),
]
