import { nowIso } from "../../server/platform/clock.server";
import { calendarKey } from "../../server/platform/secretKey.server";
import { presentTrouble } from "../../server/platform/trouble.server";
import { railOf } from "../../server/review/railOf.server";
import { orLastShown, useRemember } from "../../ui/lastShown";
import { Alarms } from "./Alarms";
import "./shell.css";
import "./rail.css";
import "../../styles/evidence.css";
import { type ClientLoaderFunctionArgs, Outlet, useLoaderData } from "react-router";
import { dbContext, dueContext, personContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/shell";
import { AreasBar } from "./AreasBar";
import { DayRail } from "./DayRail";
import { useLooksOnly } from "./useLooksOnly";
import { useTaskInFocus } from "./useTaskInFocus";

export async function loader({ context }: Route.LoaderArgs) {
  const person = context.get(personContext);
  return {
    rail: await railOf(context.get(dbContext), person, nowIso(), context.get(dueContext)),
    person,
    feed: `/due/${calendarKey()}/due.ics`,
    trouble: presentTrouble()?.sentence ?? null,
  };
}

export const clientLoader = ({ serverLoader }: ClientLoaderFunctionArgs) =>
  orLastShown("shell", () => serverLoader<typeof loader>());

export default function Shell() {
  const loaded = useLoaderData<typeof loader>();
  useRemember("shell", loaded);
  const { rail, person, feed, trouble } = loaded;
  const heldBack = useLooksOnly(person.role);
  const stage = useTaskInFocus();
  return (
    <>
      <a className="skip" href="#centre">
        Skip to the task
      </a>
      <AreasBar name={person.name} role={person.role} />
      <div className="body">
        <DayRail loaded={rail} feed={feed} />
        <div className="stage" id="centre" tabIndex={-1} ref={stage}>
          <Alarms person={person.id} trouble={trouble} heldBack={heldBack} />
          <Outlet />
        </div>
      </div>
    </>
  );
}
