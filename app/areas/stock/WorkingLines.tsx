/** How a strength is reckoned, line by line. */
export const WorkingLines = ({ lines }: { lines: readonly string[] }) => (
  <p className="working m small">
    {lines.map((line) => (
      <span key={line}>
        {line}
        <br />
      </span>
    ))}
  </p>
);
