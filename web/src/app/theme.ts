/** Light or dark: what the person chose, else what the device prefers. */
export type Theme = "light" | "dark";

const KEY = "ashlane.theme";

export function theme(): Theme {
  const chosen = localStorage.getItem(KEY);
  if (chosen === "light" || chosen === "dark") return chosen;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

export function applyTheme(): void {
  document.documentElement.dataset.bsTheme = theme();
}

export function chooseTheme(chosen: Theme): void {
  localStorage.setItem(KEY, chosen);
  applyTheme();
}

/** Where nobody chose, it follows the device: at dusk too, while the page is open. */
export function followDevice(): void {
  matchMedia("(prefers-color-scheme: dark)").addEventListener("change", applyTheme);
}
