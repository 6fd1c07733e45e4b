"""A form that may bring a photo."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends
from starlette.datastructures import UploadFile
from starlette.requests import Request

from cross_staff.core.errors import InvalidValue
from cross_staff.services.photos import MOST_BYTES, Photo, checked
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.known import refuse_unknown
from cross_staff.web.forms.units import Units


@dataclass(frozen=True)
class PhotoForm:
    """What was sent: the fields as text, and the file's bytes, one more than are allowed at most; None
    without a file."""

    typed: dict[str, str]
    sent: bytes | None

    def read(self) -> tuple[FormInput, Photo | None]:
        """The fields, and the photo, checked; what is wrong with it stands at its field."""
        form = FormInput(self.typed, Units())
        if self.sent is None:
            return form, None
        try:
            return form, checked(self.sent)
        except InvalidValue as error:
            form.errors["photo"] = error.message
            return form, None


async def photo_form(request: Request) -> PhotoForm:
    """Take in the fields and the file; nothing is unpacked yet."""
    async with request.form(max_files=1, max_fields=60, max_part_size=MOST_BYTES + 1024) as posted:
        typed = {k: v for k, v in posted.multi_items() if isinstance(v, str)}
        request.state.typed = typed
        refuse_unknown(request, [name for name in posted if name != "photo"])
        sent = posted.get("photo")
        taken = isinstance(sent, UploadFile) and bool(sent.filename)
        return PhotoForm(typed, await sent.read(MOST_BYTES + 1) if taken else None)  # type: ignore[union-attr]


PostedPhoto = Annotated[PhotoForm, Depends(photo_form)]
