"""A form that may bring a photo."""

from __future__ import annotations

from starlette.datastructures import UploadFile
from starlette.requests import Request

from cross_staff.core.errors import InvalidValue
from cross_staff.services.photos import MOST_BYTES, Photo, checked
from cross_staff.web.forms import Typing
from cross_staff.web.units import Units


async def photo_form(request: Request) -> tuple[Typing, Photo | None]:
    """The fields as text, and the photo, checked; what is wrong with it stands at its field."""
    async with request.form(max_files=1, max_fields=20, max_part_size=MOST_BYTES + 1024) as posted:
        form = Typing({k: v for k, v in posted.multi_items() if isinstance(v, str)}, Units())
        sent = posted.get("photo")
        if not isinstance(sent, UploadFile) or not sent.filename:
            return form, None
        try:
            return form, checked(await sent.read(MOST_BYTES + 1))
        except InvalidValue as error:
            form.errors["photo"] = error.message
            return form, None
