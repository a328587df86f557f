/** The areas in working order; the letter follows `g` on the keyboard. */
export const areas = [
  { name: "Day", href: "/", letter: "d" },
  { name: "Meters", href: "/meters", letter: "m" },
  { name: "Visits", href: "/visits", letter: "v" },
  { name: "Samples", href: "/samples", letter: "a" },
  { name: "Runs", href: "/runs", letter: "r" },
  { name: "Solutions", href: "/solutions", letter: "o" },
  { name: "Stock", href: "/stock", letter: "s" },
  { name: "Checks", href: "/quality", letter: "c" },
  { name: "Ledger", href: "/ledger", letter: "l" },
  { name: "Sites", href: "/sites", letter: "i" },
] as const;
