/** Daylight or dark plant room: follows the system until somebody chooses. */
export type Theme = "system" | "light" | "dark";

const SETTING = "tutelar.ground";
const dark = window.matchMedia("(prefers-color-scheme: dark)");

export function chosenTheme(): Theme {
  const value = localStorage.getItem(SETTING);
  return value === "light" || value === "dark" ? value : "system";
}

export function chooseTheme(theme: Theme): void {
  localStorage.setItem(SETTING, theme);
  applyTheme();
}

export function applyTheme(): void {
  const chosen = chosenTheme();
  document.documentElement.dataset.theme = chosen === "system" ? (dark.matches ? "dark" : "light") : chosen;
}

dark.addEventListener("change", applyTheme);
