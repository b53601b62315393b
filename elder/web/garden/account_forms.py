"""Forms of the door and of people: the first account, someone let in, how one likes to read."""

from __future__ import annotations

from typing import ClassVar

from django import forms
from django.contrib.auth.forms import UserCreationForm
from django.core.exceptions import ValidationError

from elder.web.garden.door import is_first_code
from elder.web.garden.models import Garden, Membership, Person


class AccountForm(UserCreationForm):  # type: ignore[type-arg]
    """A name and a password."""

    class Meta:
        model = Person
        fields: ClassVar = ["username"]
        labels: ClassVar = {"username": "Name to sign in with"}
        help_texts: ClassVar = {"username": ""}


class FirstAccountForm(AccountForm):
    """The first account of all, for whoever can read the terminal."""

    code = forms.CharField(
        label="Code",
        max_length=20,
        help_text="It stands in the terminal that Elder was started from.",
        widget=forms.TextInput(attrs={"autocomplete": "off", "autocapitalize": "characters"}),
    )

    def clean_code(self) -> str:
        """The code as it was printed."""
        code: str = self.cleaned_data["code"]
        if not is_first_code(code):
            raise ValidationError(
                "That is not the code. Look in the terminal for “The first account asks for this code”."
            )
        return code


class PersonForm(AccountForm):
    """Someone new in the household, with a role."""

    role = forms.ChoiceField(label="What they may do", choices=Membership.Role, initial=Membership.Role.HELPER)


class HabitsForm(forms.ModelForm):  # type: ignore[type-arg]
    """How a person likes to read."""

    class Meta:
        model = Person
        fields: ClassVar = ["units", "theme", "letter_keys"]
        labels: ClassVar = {
            "units": "Units",
            "theme": "Light or dark",
            "letter_keys": "Single letters go to rooms (? lists them)",
        }


class DeleteGardenForm(forms.Form):
    """The name of a garden, typed by whoever means it."""

    name = forms.CharField(
        label="Its name, to be sure",
        max_length=80,
        widget=forms.TextInput(attrs={"autocomplete": "off"}),
        error_messages={"required": "Type the garden’s name."},
    )

    def __init__(self, *args: object, garden: Garden, **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]  # Django's own
        self._garden = garden

    def clean_name(self) -> str:
        """The name as it is, but for spaces about it and letters large or small."""
        said: str = self.cleaned_data["name"]
        if said.strip().casefold() != self._garden.name.strip().casefold():
            raise ValidationError(f"That is not its name. It is called {self._garden.name}.")
        return said


class DeleteAccountForm(forms.Form):
    """One's password, typed by whoever means it."""

    password = forms.CharField(
        label="Your password, to be sure",
        strip=False,
        widget=forms.PasswordInput(attrs={"autocomplete": "current-password"}),
        error_messages={"required": "Type your password."},
    )

    def __init__(self, *args: object, person: Person, **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]  # Django's own
        self._person = person

    def clean_password(self) -> str:
        """The password as it is."""
        said: str = self.cleaned_data["password"]
        if not self._person.check_password(said):
            raise ValidationError("That is not your password.")
        return said
