"""Addresses of sets."""

from django.urls import path

from shop.stages.string_set import views

urlpatterns = [
    path("sets/", views.sets, name="sets"),
    path("sets/<int:set_id>.<str:form>", views.order_file, name="order_file"),
    path("<int:job_id>/set/order/", views.OrderSetView.as_view(), name="order_set"),
    path("<int:job_id>/set/arrived/", views.SetArrivedView.as_view(), name="set_arrived"),
    path("<int:job_id>/set/labelled/", views.SetAsLabelledView.as_view(), name="set_as_labelled"),
    path("<int:job_id>/set/over/", views.MoveOverView.as_view(), name="move_over"),
]
