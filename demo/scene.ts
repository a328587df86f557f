import { readFileSync } from "node:fs";
import { connectDevice, setInstrument } from "../app/server/devices/devices.server";
import { siteWater } from "../app/server/devices/simulatedProbe.server";
import { addMeter } from "../app/server/meters/meters.server";
import { recordService } from "../app/server/meters/service.server";
import { addPerson, type Person } from "../app/server/people/people.server";
import { hashSecret } from "../app/server/people/secret.server";
import { takeOutOfUse } from "../app/server/platform/inUse.server";
import { addLimitSet } from "../app/server/rules/limitSets.server";
import { writeFirstRules } from "../app/server/rules/rules.server";
import { addSitePhoto } from "../app/server/sites/sitePhotos.server";
import { changePlace } from "../app/server/sites/sitePlace.server";
import { addSite, chooseLimitSets } from "../app/server/sites/sites.server";
import { addLot } from "../app/server/stock/lots.server";
import { beginContainer } from "../app/server/stock/waste.server";
import { measured } from "../core/bench/measured";
import { defaultHouseRules } from "../core/rules/houseRules";
import { limitSetSchema } from "../core/rules/limitSets";
import { type SitePhoto, sitePhotoSchema } from "../core/samples/photo";
import { noPlace } from "../core/samples/site";
import { usualFault } from "../core/simulation/fault";
import { switchedOn } from "../core/simulation/instrument";
import { certifiedTable } from "../core/stock/certificates";
import { type Pour, pourCapture, runSession, typedCapture } from "./bench";
import { ageing, leftInWater, pondMeter } from "./instruments";
import * as scenario from "./scenario";
import signIn from "./signIn.json";
import { type Demo, isoDay, lotOf, meterOf, must, weeks } from "./story";
import { stockTheShelf } from "./supplies";

export async function setTheScene(demo: Demo): Promise<void> {
  const { db, today } = demo;
  const start = today
    .add(-7 * weeks - 1, "day")
    .hour(8)
    .toISOString();
  // The pond owes its photometer a blank with every batch.
  const quality = { ...defaultHouseRules.quality, blank: "photometers" as const };
  const pistons = [{ low_ml: 1, high_ml: 10, error_percent: 0.6 }];
  const solutions = { ...defaultHouseRules.solutions, pistons };
  await writeFirstRules(db, { ...defaultHouseRules, zone: "UTC", data: "demo", quality, solutions }, start);
  // Whoever manages is there first, and adds the others.
  const managing = must(scenario.people.find((p) => p.role === "manager") ?? null);
  const secrets = { password: await hashSecret(signIn.password), pin: await hashSecret(signIn.pin) };
  const manager = must(await addPerson(db, managing, null, start, secrets));
  for (const person of scenario.people) {
    demo.people.push(
      person === managing ? manager : must(await addPerson(db, person, manager, start, secrets)),
    );
  }
  const by = must(demo.people[0]);
  for (const { name, water, low, high, ec, place } of scenario.sites) {
    const site = {
      name,
      water,
      ph_low: low,
      ph_high: high,
      conductivity_low: ec[0],
      conductivity_high: ec[1],
      altitude_m: scenario.altitude,
    };
    const added = must(await addSite(db, site, by, start));
    const lies = { ...noPlace, ...place };
    await changePlace(db, added.id, lies, by, start);
    demo.sites.push({ ...added, place: lies });
    if (name === "Feed borehole E1") await addSitePhoto(db, added.id, wayToBorehole(), by, start);
  }
  for (const { seed: _, installed, ...meter } of scenario.meters) {
    const installed_on = isoDay(today.add(installed, "day"));
    // No instrument follows the ticks of twelve weeks: the captures say what it gave.
    demo.meters[meter.code] = must(await addMeter(db, { ...meter, installed_on }, by, start, null));
  }
  for (const lot of scenario.lots) await addDemoLot(demo, lot, by);
  await stockTheShelf(demo, by);
  for (const [stream, code, size_ml] of [
    ["general", "W-7", 2500],
    ["acid-azide", "W-3", 2500],
  ] as const)
    await beginContainer(db, { id: demo.id(start), stream, code, size_ml }, by, start);
  await occasionalChecks(demo, by);
  await whatWasBefore(demo, by, manager, start);
  await ownLimits(demo, manager, start);
}

/** What the trust of the ponds asks of the water people swim in, beside the limits that ship. */
async function ownLimits({ db, sites }: Demo, manager: Person, start: string): Promise<void> {
  const set = limitSetSchema.parse({
    id: "bathing-trust",
    name: "Bathing in the ponds",
    authority: "the trust of the ponds, house paper 3",
    from_memory: false,
    limits: [
      { parameter: "ph", species: "pH", unit: "pH", low: 6, high: 9, kind: "limit" },
      { parameter: "oxygen", species: "O2", unit: "mg/L", low: 4, high: null, kind: "expectation" },
    ],
  });
  await addLimitSet(db, set, manager, start);
  for (const { id, name, limit_sets } of sites)
    if (["Bathing pond", "Children's pool"].includes(name))
      await chooseLimitSets(db, id, [...limit_sets, set.id], manager, start);
}

/** What is used no more, and stands there with its reason: a meter that is broken, a bay that silted up, a standard that is bought. */
async function whatWasBefore({ db, today }: Demo, by: Person, manager: Person, start: string): Promise<void> {
  const old = must(scenario.meters.find((m) => m.code === "P-2") ?? null);
  const { seed: _seed, installed: _installed, ...like } = old;
  const installed_on = isoDay(today.add(-1900, "day"));
  const named = { ...like, code: "P-0", name: "Old bench meter", has_cable: false, installed_on };
  const shows = { ...must(named.channels[0]), display: "value" as const };
  const meter = must(await addMeter(db, { ...named, channels: [shows] }, by, start, null));
  await takeOutOfUse(db, "meters", meter.id, "Its glass is cracked; P-2 stands in its place.", by, start);
  const bay = { name: "Boat-house bay", water: "pond", altitude_m: scenario.altitude };
  const expected = { ph_low: 7, ph_high: 8.8, conductivity_low: null, conductivity_high: null };
  const site = must(await addSite(db, { ...bay, ...expected }, by, start));
  await takeOutOfUse(db, "sites", site.id, "Silted up; nothing has been drawn there since.", by, start);
  await takeOutOfUse(db, "recipes", "edta", "Bought ready made: it keeps longer.", manager, start);
}

/** A drawing of the way, as somebody would hang it on the page of the site. */
function wayToBorehole(): SitePhoto {
  const jpeg = readFileSync(new URL("./pictures/borehole.jpg", import.meta.url)).toString("base64");
  return sitePhotoSchema.parse({
    image: `data:image/jpeg;base64,${jpeg}`,
    caption: "Through the gate; the casing is under the copper cap",
  });
}

async function addDemoLot(demo: Demo, lot: (typeof scenario.lots)[number], by: Person): Promise<void> {
  const { kind, material = "" } = lot;
  const { name, table } = certifiedTable(kind, material, null, {
    value_25: lot.value ?? Number.NaN,
    percent_per_c: 1.91,
  });
  const received = demo.today.add(lot.received, "day");
  demo.lots[lot.code] = must(
    await addLot(
      demo.db,
      {
        kind,
        code: lot.code,
        name,
        material,
        reference: null,
        uncertainty: lot.uncertainty,
        table,
        received_on: isoDay(received),
        opened_on: lot.opened === null ? null : isoDay(demo.today.add(lot.opened, "day")),
        expires_on: isoDay(demo.today.add(lot.expires, "day")),
        shelf_life_open_days: lot.shelf,
        size: lot.bottle_ml ?? null,
        portion: lot.portion_ml ?? null,
        unit: "mL",
        place: "",
        hazards: [],
        withdrawn: null,
        discarded: null,
      },
      by,
      received.hour(9).toISOString(),
    ),
  );
}

/** Instruments that are looked at from time to time: thermometer, photometer, pipette; and what was done to them. */
async function occasionalChecks(demo: Demo, by: Person): Promise<void> {
  const day = demo.today.add(-5, "day");
  const pours = (list: Omit<Pour, "lost">[]): Pour[] => list;
  const room = 20.3;
  await runSession(demo, demo.today.add(-60, "day").hour(14), {
    meter: meterOf(demo, "T-1"),
    by,
    pours: pours([
      { measurand: "temperature", role: "check", lot: null },
      { measurand: "temperature", role: "check", lot: null },
    ]),
    capture: (_pour, i) =>
      typedCapture(
        [measured("temperature", { displayed: i === 0 ? 0.2 : 22.3, reference: i === 0 ? 0 : 22.1 })],
        i === 0 ? 0.2 : 22.3,
      ),
  });
  const photometer = switchedOn(23, ["absorbance"]);
  await runSession(demo, day.hour(10), {
    meter: meterOf(demo, "F-1"),
    by,
    pours: pours([
      { measurand: "absorbance", role: "blank", lot: null },
      { measurand: "absorbance", role: "check", lot: lotOf(demo, "A-030") },
      { measurand: "absorbance", role: "check", lot: lotOf(demo, "A-150") },
    ]),
    capture: (pour) => pourCapture(demo, photometer, pour, room),
  });
  const pipette = switchedOn(24, ["volume"]);
  await runSession(demo, day.hour(11), {
    meter: meterOf(demo, "V-1"),
    by,
    pours: [0, 1, 2].map(() => ({ measurand: "volume", role: "point", lot: null })),
    capture: (pour) => pourCapture(demo, { ...pipette, entered_s: 0 }, pour, room),
  });
  demo.counts.calibrations += 3;
  await recordService(
    demo.db,
    meterOf(demo, "M-1"),
    {
      kind: "cleaned",
      measurand: "conductivity",
      on_date: isoDay(demo.today.add(-20, "day")),
      code: "",
      note: "Lime on the electrodes; soaked in weak acid, gloves and glasses on, and rinsed.",
    },
    by,
    demo.today.add(-20, "day").hour(15).toISOString(),
  );
}

/** Puts the simulated instruments on the bench as the story has them today. */
export async function setTheBench(demo: Demo, now: string): Promise<void> {
  const { db } = demo;
  for (const { code, has_cable, seed: meterSeed, channels } of scenario.meters) {
    const quantities = channels.map((c) => c.measurand);
    if (has_cable) await connectDevice(db, meterOf(demo, code).id, meterSeed, quantities, now);
  }
  const faulty = (meterSeed: number, fault: Parameters<typeof usualFault>[0]) =>
    switchedOn(meterSeed, ["ph"], [usualFault(fault)]);
  await setInstrument(db, meterOf(demo, "P-2").id, ageing(0), now);
  await setInstrument(db, meterOf(demo, "P-3").id, faulty(73, "aged-glass"), now);
  await setInstrument(db, meterOf(demo, "P-4").id, faulty(91, "swapped-buffers"), now);
  const pond = must(demo.sites.find((s) => s.name === "Bathing pond"));
  const yesterday = isoDay(demo.today.add(-1, "day"));
  const left = leftInWater(pondMeter(0), siteWater(pond, pond.name, yesterday), `${yesterday}T17:00:00.000Z`);
  await setInstrument(db, meterOf(demo, "M-1").id, left, now);
}
