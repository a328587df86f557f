import { Link } from "react-router";
import type { PreparationState } from "../../../core/stock/preparation";
import { preparedOf } from "../../../core/stock/prepared";
import { Working } from "../../ui/Working";

/** How a lot that was made here came about: what went in, and how its strength is reckoned. */
export function MadeHere({ preparation, work }: { preparation: PreparationState; work: string }) {
  const prepared = preparedOf(preparation);
  return (
    <section className="sheet stack close">
      <h2>Made here</h2>
      <p>
        By the recipe <Link to={`/stock/preparations/${work}`}>{preparation.recipe.name}</Link>,{" "}
        {preparation.recipe.source}.
      </p>
      {prepared.value !== null && <Working lines={prepared.working} />}
    </section>
  );
}
