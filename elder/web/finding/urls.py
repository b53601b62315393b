"""The address of the one box."""

from django.urls import path

from elder.web.finding import views

urlpatterns = [path("find/", views.found, name="find")]
