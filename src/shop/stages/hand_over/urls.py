"""Address of the hand-over."""

from django.urls import path

from shop.stages.hand_over import views

urlpatterns = [
    path("<int:job_id>/hand_over/post/", views.HandOverView.as_view(), name="hand_over"),
]
