"""What computes and changes nothing: measures, maps, clearance, check-up, sections.  One declaration each; importing
this package enters them all in the registry."""

from .base import Study, find_study, load_all, schema_of, studies, study_of

load_all(__name__, __path__)

__all__ = ["Study", "find_study", "schema_of", "studies", "study_of"]
