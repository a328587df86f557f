import { Link } from "react-router";

/** Work that was begun at the water leads back to it. */
export function BackToVisit({ visit }: { visit: string | null }) {
  return visit ? (
    <Link to={`/visits/${visit}`} className="calm strong">
      Back to the visit
    </Link>
  ) : null;
}
