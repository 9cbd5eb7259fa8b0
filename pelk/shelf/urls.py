"""Addresses of the shelf; fixed ones stand before the names of materials."""

from django.urls import path, reverse

from pelk.log.views.put_away import put_away_paths
from pelk.shelf.pages import said
from pelk.shelf.services.bags import BAGS
from pelk.shelf.services.evidence import EVIDENCE
from pelk.shelf.services.lab import REPORTS
from pelk.shelf.services.materials import MATERIALS, VALUES
from pelk.shelf.services.measures import MEASURES
from pelk.shelf.services.words import PACK_SIZES, WORDS
from pelk.shelf.views import bags, buying, lab, materials, measures, values, words

app_name = "shelf"
urlpatterns = [
    path("", materials.shelf_list, name="list"),
    path("add/", materials.add, name="add"),
    path("label/", materials.label_says, name="label_says"),
    path("bags/", bags.bags, name="bags"),
    path("bags/beside/", bags.comparison, name="comparison"),
    path("bags/<int:bag>/", bags.bag, name="bag"),
    *put_away_paths(
        BAGS,
        ("bags/<int:bag>/away/", "bag_away"),
        ("bags/<int:bag>/restore/", "bag_restore"),
        says=said.bag_away,
        leads_to=lambda row: "shelf:bags",
        returns_to=lambda row: row,
    ),
    path("measures/", measures.measures, name="measures"),
    path("measures/<slug:kind>/", measures.calibrate, name="calibrate"),
    *put_away_paths(
        MEASURES,
        ("measures/<int:measure>/back/", "measure_back"),
        ("measures/<int:measure>/again/", "measure_again"),
        says=said.TAKEN_BACK.format,
        leads_to=lambda row: "shelf:measures",
    ),
    path("words/", words.words, name="words"),
    *put_away_paths(
        WORDS,
        ("words/<int:word>/away/", "word_away"),
        ("words/<int:word>/again/", "word_again"),
        says=said.WORD_FORGOTTEN.format,
        leads_to=lambda row: "shelf:words",
    ),
    *put_away_paths(
        PACK_SIZES,
        ("packs/<int:pack>/away/", "pack_away"),
        ("packs/<int:pack>/again/", "pack_again"),
        says=said.PACK_FORGOTTEN.format,
        leads_to=lambda row: "shelf:words",
    ),
    *put_away_paths(
        EVIDENCE,
        ("evidence/<int:evidence>/forget/", "evidence_away"),
        ("evidence/<int:evidence>/again/", "evidence_again"),
        says=said.LESSON_FORGOTTEN.format,
        leads_to=lambda row: reverse("shelf:material", args=[row.material]),
    ),
    path("lab/", lab.lab, name="lab"),
    path("lab/new/", lab.new_report, name="report_new"),
    path("lab/send/", lab.send, name="sample_send"),
    path("lab/<int:report>/", lab.report, name="report"),
    *put_away_paths(
        REPORTS,
        ("lab/<int:report>/away/", "report_away"),
        ("lab/<int:report>/restore/", "report_restore"),
        says=said.REPORT_AWAY.format,
        leads_to=lambda row: "shelf:lab",
        returns_to=lambda row: row,
    ),
    path("lab/samples/<int:sample>/hurry/", lab.hurry, name="sample_hurry"),
    path("lab/samples/<int:sample>/report.csv", lab.sample_file, name="sample_file"),
    path("lab/samples/<int:sample>/read/", lab.sample_read, name="sample_read"),
    path("buying/", buying.buying, name="buying"),
    path("buying/list.csv", buying.csv, name="buying_csv"),
    path("buying/list.xlsx", buying.xlsx, name="buying_xlsx"),
    *put_away_paths(
        VALUES,
        ("values/<int:value>/back/", "value_back"),
        ("values/<int:value>/again/", "value_again"),
        says=said.value_back,
        leads_to=lambda row: reverse("shelf:value", args=[row.material.slug, row.fact]),
    ),
    path("<slug:material>/", materials.material, name="material"),
    path("<slug:material>/keep/", materials.keep, name="material_keep"),
    *put_away_paths(
        MATERIALS,
        ("<slug:material>/away/", "away"),
        ("<slug:material>/back/", "bring_back"),
        says=said.AWAY.format,
        leads_to=lambda row: "shelf:list",
        returns_to=lambda row: reverse("shelf:material", args=[row.slug]),
    ),
    path("<slug:material>/label/", values.label, name="label"),
    path("<slug:material>/buy/", bags.buy, name="buy"),
    path("<slug:material>/cup/", measures.cup, name="cup"),
    path("<slug:material>/value/<str:fact>/", values.value, name="value"),
    path("<slug:material>/value/<str:fact>/forget/", values.forget, name="value_forget"),
]
