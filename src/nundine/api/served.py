"""`uvicorn nundine.api.served:app`: the application, connected to the private database."""

import gc

from nundine.api.app import create_app
from nundine.local.database import connect
from nundine.settings import settings

# Plans and problems are many small, long-lived objects: looking through all of them often costs more than it frees.
gc.set_threshold(50_000, 25, 50)
connect(settings())
app = create_app()
