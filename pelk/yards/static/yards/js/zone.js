// The browser knows its time zone; what is usual in a country comes when it is chosen.
const zone = document.querySelector("[name=time_zone]");
if (zone) zone.value = Intl.DateTimeFormat().resolvedOptions().timeZone ?? "";
