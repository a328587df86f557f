import "./shell.css";
import { Outlet, useLoaderData } from "react-router";
import { dbContext, dueContext, personContext } from "../../server/contexts.server";
import { dayRail } from "../../server/day.server";
import { KeyRegistry } from "../../shared/keys";
import type { Route } from "./+types/shell";
import { AreasBar } from "./AreasBar";
import { DayRail } from "./DayRail";

export async function loader({ context }: Route.LoaderArgs) {
  const rail = await dayRail(context.get(dbContext), new Date().toISOString(), context.get(dueContext));
  return { rail, person: context.get(personContext) };
}

export default function Shell() {
  const { rail, person } = useLoaderData<typeof loader>();
  return (
    <KeyRegistry>
      <a className="skip" href="#centre">
        Skip to the task
      </a>
      <AreasBar name={person.name} />
      <div className="body">
        <DayRail loaded={rail} />
        <div className="stage" id="centre" tabIndex={-1}>
          <Outlet />
        </div>
      </div>
    </KeyRegistry>
  );
}
