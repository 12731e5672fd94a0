"""Addresses of a job."""

from django.urls import path

from shop.bench import before_views, bow_views, counter, log_views, set_views, views

urlpatterns = [
    path("new/", counter.new, name="check_in"),
    path("<int:job_id>/", views.job, name="job"),
    path("<int:job_id>/bow/", bow_views.bow, name="bow"),
    path("<int:job_id>/bow/drawn/", bow_views.drawn, name="bow_drawn"),
    path("<int:job_id>/log/", log_views.log, name="log"),
    path("<int:job_id>/readings/<int:reading_id>/", log_views.correct, name="correct"),
    path("<int:job_id>/mark/", before_views.post_mark, name="post_mark"),
    path("<int:job_id>/live/<str:quantity>/", before_views.live, name="live"),
    path("<int:job_id>/photos/<int:photo_id>.jpg", before_views.photo, name="photo"),
    path("<int:job_id>/<str:step>/photo/", before_views.post_photo, name="post_photo"),
    path("<int:job_id>/look_over/post/", views.post_look_over, name="post_look_over"),
    path("<int:job_id>/<str:step>/reading/", views.post_reading, name="post_reading"),
    path("<int:job_id>/<str:step>/unreadable/", views.post_unreadable, name="post_unreadable"),
    path("<int:job_id>/press/replace/", views.post_replace, name="post_replace"),
    path("<int:job_id>/press/swap/", views.post_swap, name="post_swap"),
    path("<int:job_id>/set/order/", set_views.post_order, name="post_order"),
    path("<int:job_id>/set/arrived/", set_views.post_arrived, name="post_arrived"),
    path("<int:job_id>/set/over/", set_views.post_move, name="post_move"),
    path("tools/", before_views.tools, name="tools"),
    path("<int:job_id>/school/", views.post_school, name="post_school"),
    path("sets/", set_views.sets, name="sets"),
    path("sets/<int:set_id>.<str:form>", set_views.order_file, name="order_file"),
    path("<int:job_id>/press/bolts/", views.post_bolts, name="post_bolts"),
    path("<int:job_id>/press/check/", views.post_check, name="post_check"),
    path("<int:job_id>/press/accept/", views.post_accept, name="post_accept"),
    path("<int:job_id>/press/otherwise/", views.post_otherwise, name="post_otherwise"),
    path("<int:job_id>/schools/", views.schools, name="schools"),
    path("<int:job_id>/timing/", views.post_timing, name="post_timing"),
    path("<int:job_id>/back/", log_views.post_take_back, name="post_take_back"),
    path("<int:job_id>/turned/", views.post_no_press, name="post_no_press"),
    path("<int:job_id>/press/turn/", views.post_turn, name="post_turn"),
    path("<int:job_id>/press/gate/", views.post_gate, name="post_gate"),
    path("<int:job_id>/holds/<int:hold_id>/lift/", views.post_lift, name="post_lift"),
    path("<int:job_id>/hand_over/post/", views.post_hand_over, name="post_hand_over"),
    path("<int:job_id>/<str:step>/", views.step, name="step"),
]
