const KEY = "mudskipper.night";

export const isNight = () => document.documentElement.classList.contains("dark");

/** Put the day or night theme on, and remember it on this machine. */
export function setNight(night: boolean) {
  document.documentElement.classList.toggle("dark", night);
  document.documentElement.style.colorScheme = night ? "dark" : "light";
  localStorage.setItem(KEY, night ? "1" : "");
}

export function restoreNight() {
  setNight(localStorage.getItem(KEY) === "1");
}
