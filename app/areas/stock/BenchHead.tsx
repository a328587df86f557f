/** What is made or standardised, since when; the last step can be taken back, and what stands in the way is said. */
export const BenchHead = ({
  title,
  sub,
  bench,
}: {
  title: string;
  sub: string;
  bench: { canUndo: boolean; undo(): void; trouble: string | null };
}) => (
  <>
    <div className="pagehead">
      <div>
        <h1>{title}</h1>
        <p className="sub">{sub}</p>
      </div>
      {bench.canUndo && (
        <button type="button" className="calm" onClick={bench.undo}>
          Undo
        </button>
      )}
    </div>
    {bench.trouble && (
      <p className="note" role="alert">
        {bench.trouble}
      </p>
    )}
  </>
);
