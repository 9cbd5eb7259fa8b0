// Before the first paint: the theme chosen last, else the system's; and that scripts run.
(function () {
  document.documentElement.dataset.js = "";
  let chosen = null;
  try { chosen = localStorage.getItem("pelk-theme"); } catch { /* private window */ }
  const dark = window.matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.bsTheme = chosen || (dark ? "dark" : "light");
})();
