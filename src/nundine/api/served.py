"""`uvicorn nundine.api.served:app`: the application, connected to the private database."""

from nundine.api.app import create_app
from nundine.local.database import connect
from nundine.settings import settings

connect(settings())
app = create_app()
