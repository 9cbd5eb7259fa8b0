"""What is typed in Cure."""

from pelk.cure.forms.readings import ReadingForm
from pelk.cure.forms.visits import PenForm, PhotoForm, SowForm, SproutForm

__all__ = ["PenForm", "PhotoForm", "ReadingForm", "SowForm", "SproutForm"]
