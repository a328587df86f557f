import type { Page } from "@playwright/test";
import { obvious, waitOut } from "./runSteps";
import { expect, test, wind } from "./server";
import { axeOf } from "./steps";

/** Plans a visit to a site at which nobody has been yet. */
async function planAt(page: Page, site: string): Promise<void> {
  await page.goto("/visits");
  await page.getByLabel("Where to").fill(site);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Choose what to do there.")).toBeVisible();
}

/** Does the obvious thing with a finger until the colour is chosen, and has it judged. */
async function stripByTouch(page: Page): Promise<void> {
  const end = page.getByRole("button", { name: /^Judge this run/ });
  const next = page.getByRole("button", { name: obvious });
  const card = page.getByRole("region", { name: "The step in hand" });
  for (let i = 0; i < 12; i++) {
    await expect(card.or(end).first()).toBeVisible();
    if (await end.isVisible()) break;
    await waitOut(page);
    const before = await card.textContent();
    if (await next.first().isVisible()) await next.first().tap();
    else await card.getByRole("group").getByRole("button", { name: "7", exact: true }).tap();
    await expect
      .poll(async () => (await end.isVisible()) || (await card.textContent()) !== before)
      .toBe(true);
  }
  await end.tap();
  await expect(page.getByRole("link", { name: "Back to the visit" })).toBeVisible();
}

test.describe("by touch on a phone", () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  test.beforeEach(({ page }) => page.clock.install());

  test("a whole visit: the thermometer hangs, a bubble empties the pair, one thing is left undone by name", async ({
    page,
  }) => {
    const press = (name: string | RegExp) => page.getByRole("button", { name }).first().tap();
    /** Unfolds an item of the list; the next one is open by itself. */
    const open = async (name: RegExp) => {
      const head = page.getByRole("button", { name }).and(page.locator(".visit-head"));
      if ((await head.getAttribute("aria-expanded")) !== "true") await head.tap();
    };
    await planAt(page, "Children's pool");
    await page.getByLabel("Clarity").check();
    for (const name of ["Conductivity", "Dissolved oxygen"])
      await page.getByRole("checkbox", { name, exact: true }).check();
    await page.getByLabel("Tests, there or from its bottles").fill("pH strip");
    await page.keyboard.press("Enter");
    await page.keyboard.press("Escape");
    await page.getByLabel("Oxygen, glass-stoppered pair").check();
    await page.getByLabel("Nutrients, filtered").check();
    await press("Begin the visit");
    await press(/^I have arrived/);
    await press("It hangs");
    await expect(page.getByRole("timer")).toContainText("5:00");
    await page.getByRole("textbox", { name: "Air temperature" }).fill("nine");
    await press("Keep it all the same");
    await expect(page.getByText("“nine” is not a number.")).toBeVisible();
    await wind(page, 300_000);
    await page.getByRole("textbox", { name: "Air temperature" }).fill("9,5");
    await press("Keep it");
    await press("The thermometer is in the bag");

    // Look and smell come next by themselves.
    await press("overcast");
    await press("Keep what you saw");

    // Pocket meters in the water itself: two looks at each display.
    for (const [what, meter, displays] of [
      ["Temperature", "T-1", ["12.8", "12.9"]],
      ["pH", "P-1", ["7.31", "7.32"]],
      ["Conductivity", "C-1", ["598", "600"]],
    ] as const) {
      await open(new RegExp(`^${what}, to do`));
      await page.getByRole("link", { name: `Read with ${meter}` }).tap();
      await expect(page.getByRole("checkbox", { name: /^In the water itself/ })).toBeChecked();
      await press(/^Start/);
      await press(/^Rinsed/);
      await press(/^The (probe|cell|thermometer|sensor) is in the water/);
      for (const shown of displays) {
        await page.getByRole("textbox", { name: "Display", exact: true }).fill(shown);
        const water = page.getByRole("textbox", { name: "Temperature", exact: true });
        if (what !== "Temperature") await water.fill("12.8");
        await press(/^Keep it/);
        await expect(page.getByRole("listitem").filter({ hasText: shown }).first()).toBeVisible();
      }
      await press(/^Judge this reading/);
      await expect(page.getByRole("status")).toContainText(/Sound|note|Held/);
      await page.getByRole("link", { name: "Back to the visit" }).tap();
      await expect(page.getByRole("button", { name: `${what}, done`, exact: true })).toBeVisible();
    }

    await page.context().setOffline(true);
    await open(/^Oxygen, glass-stoppered pair/);
    await press("Rinsed");
    await page.getByRole("textbox", { name: "Depth below the surface" }).fill("15");
    await press(/^Filled/);
    await press(/^A bubble: both emptied/);
    await page.context().setOffline(false);
    await expect(page.getByText(/not sent yet/)).toHaveCount(0);
    await page.reload();
    // In full sun: seven to one for every number and for the one thing to do.
    const sun = await axeOf(page)
      .include(".visit-body .act, .visit-body .m, .visit-head b")
      .withRules(["color-contrast-enhanced"])
      .analyze();
    expect(sun.violations.flatMap((v) => v.nodes.map((n) => n.html))).toEqual([]);
    expect(sun.passes.map((p) => p.id)).toEqual(["color-contrast-enhanced"]);
    await open(/^Oxygen, glass-stoppered pair, begun: rinsed 1 time/);
    await page.getByRole("textbox", { name: "Depth below the surface" }).fill("half a foot");
    await press(/^Filled/);
    await expect(page.getByText("“half a foot” is not a number.")).toBeVisible();
    await page.getByRole("textbox", { name: "Depth below the surface" }).fill("0.5 ft");
    await press(/^Filled/);
    await press("Both are dosed");

    await open(/^Nutrients, filtered/);
    for (let i = 1; i <= 3; i++) {
      await expect(page.getByText(`${i - 1} of 3 times`)).toBeVisible();
      await press(/^Rinsed$/);
    }
    await page.getByRole("textbox", { name: "Depth below the surface" }).fill("15");
    await press(/^Filled$/);
    await press(/^Filtered$/);
    await press("On ice and in the dark");

    await open(/^Clarity/);
    await page.getByRole("textbox", { name: "It disappears at" }).fill("3 ft");
    await press(/^Keep it$/);
    await expect(page.getByText("Give both")).toBeVisible();
    await page.getByRole("textbox", { name: "It comes back at" }).fill("2.5 ft");
    await press(/^Keep it$/);
    await expect(page.getByRole("status").filter({ hasText: "84 cm" })).toBeVisible();

    // A strip, begun from here with the water of here.
    await open(/^pH strip/);
    await page.getByRole("link", { name: "Test the water here" }).tap();
    await press(/^Start/);
    await stripByTouch(page);
    await page.getByRole("link", { name: "Back to the visit" }).tap();
    await expect(page.getByRole("button", { name: "pH strip, done" })).toBeVisible();

    await open(/^Leave/);
    await expect(page.getByText("Not done:")).toBeVisible();
    await page.getByRole("button", { name: "Leave without them" }).dblclick();
    await expect(page.getByText("Planned and not done: Dissolved oxygen.")).toBeVisible();
    await expect(page.getByText("1 bubble emptied")).toBeVisible();
    await expect(page.getByText(/keeps until/)).toHaveCount(2);
    await page.goto("/visits");
    await expect(page.getByRole("cell", { name: "not done: Dissolved oxygen" })).toHaveCount(1);
  });
});

test.describe("by keyboard", () => {
  test.beforeEach(({ page }) => page.clock.install());

  test("a well from the dip to the sample: half the flow takes twice the time, and three rounds agree", async ({
    page,
  }) => {
    const press = async (name: string | RegExp) => {
      await page.getByRole("button", { name }).first().focus();
      await page.keyboard.press("Enter");
    };
    const type = async (name: string | RegExp, text: string) => {
      await page.getByRole("textbox", { name }).focus();
      await page.keyboard.type(text);
    };
    await planAt(page, "Children's pool");
    for (const name of ["Air temperature", "Look and smell", "Temperature", "pH"])
      await page.getByRole("checkbox", { name, exact: true }).uncheck();
    await page.getByRole("checkbox", { name: "Purge a well" }).check();
    await page.getByRole("checkbox", { name: "General, nothing added" }).check();
    await press("Begin the visit");
    await press(/^I have arrived/);
    await type("Depth of the well", "24");
    await type("Depth to the water", "34");
    await type(/^Inner diameter/, "150");
    await page.keyboard.press("Enter");
    await expect(
      page.getByText("measure both depths from the same point", { exact: false }).first(),
    ).toBeVisible();
    await page.getByRole("textbox", { name: "Depth to the water" }).fill("14");
    await page.keyboard.press("Enter");
    await expect(page.getByText("0 of 530 L").first()).toBeVisible();
    await type("Bucket, L", "10");
    await type("Filled in, s", "20");
    await page.keyboard.press("Enter");
    await expect(page.getByText(/1[78] min more/).first()).toBeVisible();
    // Half of it, and then half the flow: as long again for the rest.
    await wind(page, 530_000);
    await expect(page.getByText(/2[67]\d of 530 L, [89] min more/).first()).toBeVisible();
    await type("Bucket, L", "5");
    await type("Filled in, s", "20");
    await page.keyboard.press("Enter");
    await expect(page.getByText(/1[78] min more/).first()).toBeVisible();
    await press(/^Field quantities/);
    for (const [i, ph] of ["7.41", "7.24", "7.22", "7.25"].entries()) {
      await wind(page, 280_000);
      await type("pH", ph);
      await type(/^Conductivity/, "612");
      await page.keyboard.press("Enter");
      await expect(page.locator("table tbody tr")).toHaveCount(i + 1);
      if (i === 2)
        await expect(page.getByText("pH lies 0.120 from its mean; ± 0.1 is steady.")).toBeVisible();
    }
    await expect(page.getByText("Steady: sample now.")).toBeVisible();
    // Purged and steady: the bottle is open by itself.
    for (let i = 0; i < 3; i++) await press(/^Rinsed$/);
    await press(/^Filled$/);
    await press("On ice and in the dark");
    await press(/^Leave$/);
    await expect(page.getByText(/^Taken /)).toBeVisible();
    await expect(page.getByText(/before it was purged|not known to be steady/)).toHaveCount(0);
  });
});
