/** The site in the address: pages of a site, and what they ask for, lie below `/at/KEY`. */
export const site = /^\/at\/([^/]+)(?:\/|$)/.exec(location.pathname)?.[1] ?? null;

/** Below what all of it lies. */
export const base = site ? `/at/${site}` : "";

/** Where this site has something. */
export function there(path: string): string {
  return base + path;
}

/** Goes to another site, or to the present one by its address; nothing of the page is kept. */
export function goTo(key: string, path = "/"): void {
  location.replace(`/at/${key}${path}`);
}
