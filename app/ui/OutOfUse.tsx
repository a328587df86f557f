import "./bench/bench.css";
import { Form, Link } from "react-router";
import type { TakenOut } from "../../core/bench/takenOut";
import { showTime } from "../../core/time/words";
import { WithReason } from "./TakeOut";
import { useSending } from "./useSending";
import { VerdictMark } from "./VerdictMark";

/** Says of something that it is out of use, since when and why, and takes it into use again. */
export function OutOfUse({
  out,
  what,
  zone,
  mayChange = true,
}: {
  out: TakenOut;
  what: string;
  zone: string;
  mayChange?: boolean;
}) {
  const busy = useSending();
  return (
    <section className="stack close" aria-label="Out of use">
      <div className="headline">
        <VerdictMark verdict="void" size={30} />
        Out of use since {showTime(out.at, zone, "day")}.
      </div>
      <p className="note">
        {out.by}: {out.reason}
      </p>
      <p className="quiet">{what}</p>
      {mayChange && (
        <Form method="post" className="cluster">
          <button type="submit" name="do" value="use" className="calm strong" disabled={busy}>
            Take it into use again
          </button>
        </Form>
      )}
    </section>
  );
}

/** Takes something out of use, with a reason. */
export const TakeOutOfUse = ({ summary, hint }: { summary: string; hint: string }) => (
  <WithReason summary={summary} label="Why" hint={hint} action="Take it out of use" />
);

/** What is used no more, with since when and why; nothing where there is none. */
export const OutOfUseList = ({
  title,
  entries,
  zone,
}: {
  title: string;
  entries: readonly { href: string; name: string; out: TakenOut }[];
  zone: string;
}) =>
  entries.length > 0 && (
    <section className="stack close" aria-label={title}>
      <h2>{title}</h2>
      <ul className="findings">
        {entries.map(({ href, name, out }) => (
          <li key={href}>
            <VerdictMark verdict="void" size={15} />
            <div>
              <Link to={href}>{name}</Link>
              <div className="limit">
                since {showTime(out.at, zone, "day")}: {out.reason}
              </div>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
