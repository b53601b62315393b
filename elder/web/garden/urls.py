"""Addresses of the door, the garden and its people."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from elder.web.garden import (
    almanac_views,
    assumptions_views,
    new_garden_views,
    password_views,
    people_views,
    records_views,
    undo,
    views,
)

urlpatterns = [
    path("", views.home, name="home"),
    path("now/", views.now, name="now"),
    path("hand/", views.hand, name="hand"),
    path("sign-in/", views.SignIn.as_view(), name="sign-in"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
    path("first-account/", views.first_account, name="first-account"),
    path("habits/", views.habits, name="habits"),
    path("demo/enter/", views.enter_demo, name="demo-enter"),
    path("garden/new/", new_garden_views.new_garden, name="garden-new"),
    path("garden/new/answer/", new_garden_views.answer, name="garden-new-answer"),
    path("g/<int:garden_id>/garden/", views.garden, name="garden"),
    path("g/<int:garden_id>/garden/edit/", views.edit_garden, name="garden-edit"),
    path("password/", views.NewPassword.as_view(), name="password"),
    path("password/<uidb64>/<token>/", password_views.ChoosePassword.as_view(), name="password-choose"),
    path("g/<int:garden_id>/person/<int:membership_id>/link/", password_views.offer_link, name="person-link"),
    path("g/<int:garden_id>/person/<int:membership_id>/", views.change_part, name="person-part"),
    path("g/<int:garden_id>/person/new/", views.new_person, name="person-new"),
    path("g/<int:garden_id>/person/invite/", people_views.invite, name="person-invite"),
    path("g/<int:garden_id>/person/uninvite/", people_views.uninvite, name="person-uninvite"),
    path("g/<int:garden_id>/garden/leave/", people_views.leave, name="garden-leave"),
    path("g/<int:garden_id>/garden/delete/", people_views.delete_garden, name="garden-delete"),
    path("come-in/<str:secret>/", people_views.invitation, name="invitation"),
    path("sessions/", people_views.sessions, name="sessions"),
    path("account/delete/", people_views.delete_account, name="account-delete"),
    path("g/<int:garden_id>/words/", views.words, name="words"),
    path("g/<int:garden_id>/assumptions/", assumptions_views.assumptions, name="assumptions"),
    path("g/<int:garden_id>/undo/", undo.undo, name="undo"),
    path("g/<int:garden_id>/almanac/", almanac_views.almanac, name="almanac"),
    path("g/<int:garden_id>/frost/", almanac_views.frost, name="frost"),
    path("g/<int:garden_id>/records/", records_views.records, name="records"),
    path("g/<int:garden_id>/records/preview/", records_views.preview, name="records-preview"),
    path("g/<int:garden_id>/records/forget/", records_views.forget, name="records-forget"),
]
