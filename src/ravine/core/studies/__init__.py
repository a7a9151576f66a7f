"""What computes and changes nothing: measures, maps, clearance, check-up, sections.  One declaration each; importing
this package enters them all in the registry."""

from ..edits.declared import load_family
from .base import Study, find_study, studies, study_of

load_family(__name__, __path__)

__all__ = ["Study", "find_study", "studies", "study_of"]
