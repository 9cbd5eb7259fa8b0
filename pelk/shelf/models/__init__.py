"""What the shelf keeps: materials and their values, bags, measures, lab reports."""

# Django finds the rows of a station through this module.
import pelk.shelf.models.bags
import pelk.shelf.models.evidence
import pelk.shelf.models.lab
import pelk.shelf.models.materials
import pelk.shelf.models.measures
import pelk.shelf.models.words  # noqa: F401
