"""Addresses of the shelf; fixed ones stand before the names of materials."""

from django.urls import path

from pelk.shelf.views import bags, buying, lab, materials, measures, values

app_name = "shelf"
urlpatterns = [
    path("", materials.shelf_list, name="list"),
    path("add/", materials.add, name="add"),
    path("label/", materials.label_says, name="label_says"),
    path("bags/", bags.bags, name="bags"),
    path("bags/beside/", bags.beside, name="beside"),
    path("bags/<int:bag>/", bags.bag, name="bag"),
    path("bags/<int:bag>/away/", bags.put_away, name="bag_away"),
    path("bags/<int:bag>/restore/", bags.restore, name="bag_restore"),
    path("measures/", measures.measures, name="measures"),
    path("measures/<slug:kind>/", measures.calibrate, name="calibrate"),
    path("measures/<int:measure>/back/", measures.take_back, name="measure_back"),
    path("measures/<int:measure>/again/", measures.again, name="measure_again"),
    path("lab/", lab.lab, name="lab"),
    path("lab/new/", lab.new_report, name="report_new"),
    path("lab/send/", lab.send, name="sample_send"),
    path("lab/<int:report>/", lab.report, name="report"),
    path("lab/<int:report>/away/", lab.put_away, name="report_away"),
    path("lab/<int:report>/restore/", lab.restore, name="report_restore"),
    path("lab/samples/<int:sample>/hurry/", lab.hurry, name="sample_hurry"),
    path("lab/samples/<int:sample>/report.csv", lab.sample_file, name="sample_file"),
    path("lab/samples/<int:sample>/read/", lab.sample_read, name="sample_read"),
    path("buying/", buying.buying, name="buying"),
    path("buying/list.csv", buying.csv, name="buying_csv"),
    path("buying/list.xlsx", buying.xlsx, name="buying_xlsx"),
    path("values/<int:value>/back/", values.take_back, name="value_back"),
    path("values/<int:value>/again/", values.value_again, name="value_again"),
    path("<slug:material>/", materials.material, name="material"),
    path("<slug:material>/keep/", materials.keep, name="material_keep"),
    path("<slug:material>/away/", materials.put_away, name="away"),
    path("<slug:material>/back/", materials.bring_back, name="bring_back"),
    path("<slug:material>/label/", values.label, name="label"),
    path("<slug:material>/buy/", bags.buy, name="buy"),
    path("<slug:material>/cup/", measures.cup, name="cup"),
    path("<slug:material>/value/<str:fact>/", values.value, name="value"),
    path("<slug:material>/value/<str:fact>/forget/", values.forget, name="value_forget"),
]
