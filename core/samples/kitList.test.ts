import { describe, expect, it } from "vitest";
import { bottleTypes } from "./bottleTypes";
import { kitList } from "./kitList";
import { noPlan, type VisitPlan } from "./visitEvents";

const bottles = (...ids: string[]) => ids.flatMap((id) => bottleTypes.find((t) => t.id === id) ?? []);
const plan = (more: Partial<VisitPlan>): VisitPlan => ({ ...noPlan, ...more });
const list = (...plans: VisitPlan[]) => kitList(plans).join("\n");

describe("what is taken along", () => {
  it("for an oxygen pair is two bottles, gloves, goggles and a waste bottle, and no ice", () => {
    const kit = list(plan({ bottles: bottles("oxygen-pair") }));
    for (const words of ["Oxygen, glass-stoppered pair: 2 bottles", "Gloves and goggles", "Waste bottle"])
      expect(kit).toContain(words);
    expect(kit).not.toContain("ice");
  });

  it("is counted over all sites, with two spare filters, and ice where one bottle needs it", () => {
    const one = plan({ bottles: bottles("nutrients-filtered") });
    const kit = list(one, one, plan({ clarity: true }));
    expect(kit).toContain("4 filters and a syringe");
    expect(kit).toContain("Nutrients, filtered: 2 bottles");
    expect(kit).toContain("Cooler with fresh ice");
    expect(kit).toContain("Disc with its line");
  });

  it("takes the meters that read, the tests with spares, and the well's own things", () => {
    const kit = list(
      plan({
        air: true,
        measurands: ["ph", "conductivity"],
        methods: [{ id: "m", name: "pH strip", parameters: ["ph"] }],
        well: { volumes: 3, rounds: 3 },
      }),
    );
    for (const words of [
      "Meters for pH, conductivity",
      "spare batteries",
      "pH strip: its kit, as on the pack list",
      "Dip probe",
      "Air thermometer",
    ])
      expect(kit).toContain(words);
  });

  it("packs what is used last at the bottom, and the gloves on top", () => {
    const kit = kitList([noPlan]);
    expect(kit[0]).toContain("Waste bag");
    expect(kit.at(-1)).toBe("Gloves on top");
  });
});
