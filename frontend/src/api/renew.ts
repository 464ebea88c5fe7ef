const KEY = "mudskipper.renewed";

/** Load the page again, since the server speaks another version's language; once, so that it does not reload forever. */
export function renew() {
  if (sessionStorage.getItem(KEY)) return;
  sessionStorage.setItem(KEY, "yes");
  location.reload();
}

/** What is to be said of a page that has just loaded itself again; nothing otherwise. */
export function renewedWords(): string {
  const renewed = sessionStorage.getItem(KEY) !== null;
  sessionStorage.removeItem(KEY);
  return renewed ? "Mudskipper was updated, and this page was loaded again." : "";
}
