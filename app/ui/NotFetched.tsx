/** Stands where a part of a page was to stand whose script could not be fetched. */
export const NotFetched = ({ again, onClose }: { again(): void; onClose?(): void }) => (
  <div className="not-fetched" role="alert">
    <p className="wrong">
      This part of the page could not be fetched: Brintel cannot be reached. Try again when it answers; if it
      does and this part still does not come, reload the page.
    </p>
    <div className="cluster">
      <button type="button" className="calm strong" onClick={again}>
        Try again
      </button>
      {onClose && (
        <button type="button" className="calm" onClick={onClose}>
          Close
        </button>
      )}
    </div>
  </div>
);
