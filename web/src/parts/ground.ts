/** Daylight or dark plant room: follows the system until somebody chooses. */
export type Ground = "system" | "light" | "dark";

const SETTING = "tutelar.ground";
const dark = window.matchMedia("(prefers-color-scheme: dark)");

export function chosenGround(): Ground {
  const value = localStorage.getItem(SETTING);
  return value === "light" || value === "dark" ? value : "system";
}

export function chooseGround(ground: Ground): void {
  localStorage.setItem(SETTING, ground);
  applyGround();
}

export function applyGround(): void {
  const chosen = chosenGround();
  document.documentElement.dataset.ground = chosen === "system" ? (dark.matches ? "dark" : "light") : chosen;
}

dark.addEventListener("change", applyGround);
