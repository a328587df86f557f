/** What to be careful of while something is made or standardised, and where the way of doing it comes from. */
export const Careful = ({ cautions, source }: { cautions: readonly string[]; source: string }) => (
  <>
    <h3>Careful</h3>
    <ul className="points">
      <li>Goggles and gloves; the safety data sheet of each bottle and your local rules decide.</li>
      {cautions.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </ul>
    <p className="quiet small">Source: {source}.</p>
  </>
);

/** The steps of each portion, in their order. */
export const PortionSteps = ({ steps }: { steps: readonly string[] }) => (
  <ol className="points">
    {steps.map((line) => (
      <li key={line}>{line}</li>
    ))}
  </ol>
);
