"""Styles, scripts and fonts by the stamp of their content; one that was never collected is told from a fault."""

from __future__ import annotations

from whitenoise.storage import CompressedManifestStaticFilesStorage

from elder.web.logbook.trouble import MissingStaticError


class CollectedFiles(CompressedManifestStaticFilesStorage):  # type: ignore[misc]
    """WhiteNoise's, with an error of its own name."""

    def stored_name(self, name: str) -> str:
        """The stamped name. Raises ``MissingStaticError`` for one that was not collected."""
        try:
            return str(super().stored_name(name))
        except ValueError as error:
            raise MissingStaticError(name) from error
