/** The areas in working order; the letter follows `g` on the keyboard. Pages of an area that stand at other addresses are named with it. */
export const areas: readonly { name: string; href: string; letter: string; also?: readonly string[] }[] = [
  { name: "Day", href: "/", letter: "d" },
  {
    name: "Meters",
    href: "/meters",
    letter: "m",
    also: ["/calibrations", "/checks", "/services", "/readings"],
  },
  { name: "Visits", href: "/visits", letter: "v" },
  { name: "Samples", href: "/samples", letter: "a", also: ["/bottles", "/custody"] },
  { name: "Runs", href: "/runs", letter: "r", also: ["/methods"] },
  { name: "Solutions", href: "/solutions", letter: "o" },
  { name: "Stock", href: "/stock", letter: "s" },
  { name: "Checks", href: "/quality", letter: "c" },
  { name: "Ledger", href: "/ledger", letter: "l", also: ["/records"] },
  { name: "Sites", href: "/sites", letter: "i" },
  { name: "Practice", href: "/practice", letter: "p" },
];

/** The area that a page belongs to; undefined for those of the house. */
export const areaAt = (pathname: string): (typeof areas)[number] | undefined =>
  areas.find(({ href, also = [] }) =>
    [href, ...also].some((path) => pathname === path || (path !== "/" && pathname.startsWith(`${path}/`))),
  );
