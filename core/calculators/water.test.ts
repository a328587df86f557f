import { describe, expect, it } from "vitest";
import { calculate } from "./registry";

const run = (id: string, inputs: object) => {
  const answer = calculate(id, inputs);
  if ("errors" in answer)
    return { outputs: {} as Record<string, number>, codes: [], paths: answer.errors.map((e) => e.path) };
  return {
    outputs: answer.outputs as Record<string, number>,
    codes: answer.warnings.map((w) => w.code),
    paths: [],
  };
};

describe("oxygen-saturation", () => {
  it("gives percent only where something was measured", () => {
    expect(run("oxygen-saturation", { temperature_c: 20 }).outputs).not.toHaveProperty("percent_saturation");
    const { outputs, codes } = run("oxygen-saturation", { temperature_c: 20, measured_mg_l: 9.092 });
    expect(outputs.percent_saturation).toBeCloseTo(100, 0);
    expect(codes).toEqual([]);
  });
  it("asks about what is rare, and refuses what the equation was not made for", () => {
    expect(run("oxygen-saturation", { temperature_c: 20, measured_mg_l: 14 }).codes).toEqual([
      "unusual-saturation",
    ]);
    expect(run("oxygen-saturation", { temperature_c: 20, measured_mg_l: 0.5 }).codes).toEqual([
      "unusual-saturation",
    ]);
    expect(run("oxygen-saturation", { temperature_c: 41 }).paths).toEqual(["temperature_c"]);
    expect(run("oxygen-saturation", { temperature_c: 20, pressure_hpa: 200, salinity: 50 }).paths).toEqual([
      "pressure_hpa",
      "salinity",
    ]);
  });
  it("shows that 10 mg/L is true near 15 °C at sea level, and not elsewhere", () => {
    // Source: common practice; the saturation table gives 10.08 mg/L at 15 °C.
    const at = (temperature_c: number, pressure_hpa = 1013.25) =>
      run("oxygen-saturation", { temperature_c, pressure_hpa }).outputs.saturation_mg_l ?? 0;
    expect(at(15)).toBeCloseTo(10.1, 1);
    expect(Math.abs(at(22) - 10)).toBeGreaterThan(1);
    expect(Math.abs(at(15, 940) - 10)).toBeGreaterThan(0.6);
  });
});

describe("station-pressure", () => {
  it("names the size of the slip it prevents", () => {
    const { outputs, codes } = run("station-pressure", { sea_level_pressure_hpa: 1013.25, altitude_m: 600 });
    expect(outputs.station_pressure_hpa).toBeCloseTo(943.2, 0);
    expect(codes).toEqual(["sea-level-slip"]);
    expect(run("station-pressure", { sea_level_pressure_hpa: 1013.25, altitude_m: 20 }).codes).toEqual([]);
    const answer = calculate("station-pressure", { sea_level_pressure_hpa: 1013.25, altitude_m: 600 });
    expect("warnings" in answer && answer.warnings[0]?.message).toContain("7.");
  });
});

describe("conductivity-25", () => {
  it("takes the function for natural waters unless told otherwise", () => {
    const natural =
      run("conductivity-25", { conductivity_us_cm: 400, temperature_c: 15 }).outputs.conductivity_25_us_cm ??
      0;
    const linear = run("conductivity-25", { conductivity_us_cm: 400, temperature_c: 15, model: "linear" });
    expect(natural).toBeGreaterThan(495);
    expect(linear.outputs.conductivity_25_us_cm).toBeCloseTo(400 / 0.809, 6);
    const two = { conductivity_us_cm: 400, temperature_c: 15, model: "linear", coefficient_percent_per_c: 2 };
    expect(run("conductivity-25", two).outputs.conductivity_25_us_cm).toBeCloseTo(500, 6);
  });
  it("warns where no compensation is trusted and stops where the function ends", () => {
    expect(run("conductivity-25", { conductivity_us_cm: 400, temperature_c: 3 }).codes).toEqual([
      "far-from-25",
    ]);
    expect(run("conductivity-25", { conductivity_us_cm: 400, temperature_c: 36 }).paths).toEqual([
      "temperature_c",
    ]);
    expect(
      run("conductivity-25", { conductivity_us_cm: 400, temperature_c: 36, model: "linear" }).codes,
    ).toEqual(["far-from-25"]);
  });
});

describe("conductivity-standard", () => {
  it("takes the concentration once, in either unit", () => {
    const molar =
      run("conductivity-standard", { salt: "KCl", concentration_mol_l: 0.01 }).outputs.conductivity_us_cm ??
      0;
    const mass =
      run("conductivity-standard", { salt: "KCl", concentration_mg_l: 745.51 }).outputs.conductivity_us_cm ??
      1;
    expect(molar).toBeCloseTo(1412, 6);
    expect(mass / molar).toBeCloseTo(1, 6);
    expect(run("conductivity-standard", { salt: "KCl" }).paths).toEqual(["concentration_mol_l"]);
    const both = { salt: "KCl", concentration_mol_l: 0.01, concentration_mg_l: 745 };
    expect(run("conductivity-standard", both).paths).toEqual(["concentration_mol_l"]);
  });
  it("names the field of a concentration that is too strong", () => {
    expect(run("conductivity-standard", { salt: "NaCl", concentration_mg_l: 5000 }).paths).toEqual([
      "concentration_mg_l",
    ]);
  });
});

describe("salinity", () => {
  it("warns outside the scale", () => {
    expect(run("salinity", { conductivity_ms_cm: 30, temperature_c: 20 }).codes).toEqual([]);
    expect(run("salinity", { conductivity_ms_cm: 1, temperature_c: 20 }).codes).toEqual(["outside-scale"]);
  });
});

describe("redox-standard", () => {
  it("subtracts the reference electrode", () => {
    const against = (reference: string) =>
      run("redox-standard", { standard: "iron-cyanide", temperature_c: 25, reference }).outputs
        .potential_mv ?? 0;
    expect(against("she") - against("agcl-sat")).toBeCloseTo(198, 9);
    expect(against("she") - against("agcl-3m")).toBeCloseTo(210, 9);
    expect(
      run("redox-standard", { standard: "quinhydrone-9", temperature_c: 25, reference: "she" }).paths,
    ).toEqual(["standard"]);
  });
});
