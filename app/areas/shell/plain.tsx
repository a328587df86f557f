import "./shell.css";
import "./rail.css";
import "../../styles/evidence.css";
import { Outlet } from "react-router";
import { Drop } from "./Drop";

/** Pages before anyone is at the bench: no rail, no areas. */
export default function Plain() {
  return (
    <>
      <header className="areas">
        <span className="mark">
          <Drop /> Brintel
        </span>
      </header>
      <main className="plain-page">
        <Outlet />
      </main>
    </>
  );
}
