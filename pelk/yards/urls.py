"""Addresses of people and yards."""

from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_not_required
from django.urls import path, reverse_lazy

from pelk.yards.doors.limits import LINKS, SIGN_INS, limited
from pelk.yards.forms.yard import SignInForm
from pelk.yards.views import people, yard

app_name = "yards"


def _page(name: str) -> str:
    return f"yards/{name}.html"


urlpatterns = [
    path(
        "sign-in/",
        limited(SIGN_INS)(
            auth.LoginView.as_view(
                template_name=_page("sign_in"),
                authentication_form=SignInForm,
                redirect_authenticated_user=True,
            )
        ),
        name="sign_in",
    ),
    path("water/", yard.water_page, name="water"),
    path("months/", yard.months, name="months"),
    path("sign-out/", auth.LogoutView.as_view(), name="sign_out"),
    path("sign-up/", yard.sign_up_page, name="sign_up"),
    path("welcome/<str:word>/", yard.welcome, name="welcome"),
    path("place/", yard.place, name="place"),
    path(
        "password/",
        auth.PasswordChangeView.as_view(
            template_name=_page("password"), success_url=reverse_lazy("yards:password_done")
        ),
        name="password",
    ),
    path(
        "password/done/",
        auth.PasswordChangeDoneView.as_view(template_name=_page("password_done")),
        name="password_done",
    ),
    path(
        "link/",
        login_not_required(
            limited(LINKS)(
                auth.PasswordResetView.as_view(
                    template_name=_page("link"),
                    email_template_name="yards/link_mail.txt",
                    subject_template_name="yards/link_subject.txt",
                    success_url=reverse_lazy("yards:link_sent"),
                )
            )
        ),
        name="link",
    ),
    path(
        "link/sent/",
        login_not_required(auth.PasswordResetDoneView.as_view(template_name=_page("link_sent"))),
        name="link_sent",
    ),
    path(
        "link/<uidb64>/<token>/",
        login_not_required(
            auth.PasswordResetConfirmView.as_view(
                template_name=_page("link_password"),
                success_url=reverse_lazy("home"),
                post_reset_login=True,
                post_reset_login_backend="django.contrib.auth.backends.ModelBackend",
            )
        ),
        name="link_password",
    ),
    path("settings/", yard.settings_page, name="settings"),
    path("sign-ins/", people.sign_ins, name="sign_ins"),
    path("sign-ins/<slug:session>/end/", people.end_sign_in, name="end_sign_in"),
    path("people/", people.people, name="people"),
    path("people/invite/", people.invite, name="invite"),
    path("people/invite/<int:invitation>/withdraw/", people.withdraw, name="withdraw"),
    path("people/<int:member>/role/", people.role, name="role"),
    path("people/leave/", people.leave, name="leave"),
    path("join/<str:token>/", people.join, name="join"),
    path("switch/", people.switch, name="switch"),
    path("account/", people.account, name="account"),
    path("account/email/", people.email, name="email"),
    path("account/email/<str:word>/", people.email_link, name="email_link"),
    path("account/end/", people.end_account, name="end_account"),
    path("account/stay/", people.stay, name="stay"),
    path("end/", people.end_yard, name="end_yard"),
    path("keep/", people.keep_yard, name="keep_yard"),
    path("system/", yard.system, name="system"),
]
