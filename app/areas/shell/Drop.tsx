/** The sign of Brintel: a drop with the divisions of a burette. */
export function Drop() {
  return (
    <svg width="20" height="22" viewBox="0 0 20 22" fill="none" stroke="var(--edge)" aria-hidden="true">
      <path d="M10 1.5C6 7 3 10.4 3 14a7 7 0 0 0 14 0c0-3.6-3-7-7-12.5z" strokeWidth="2" />
      <path d="M6 14h3M6 11h2M6 17h4" strokeWidth="1.6" />
    </svg>
  );
}
