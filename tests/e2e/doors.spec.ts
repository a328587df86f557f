import type { Page } from "@playwright/test";
import demo from "../../demo/signIn.json" with { type: "json" };
import { expect, test } from "./server";
import { axeOf, expectNone, expectReadable, type Violations } from "./steps";

/** What stands beside every page: it is judged with one of them. */
const beside = [".rail", ".areas"];

/** Levels A and AA of WCAG 2 without colours, which are judged by themselves; without what is named. */
const readableButColours = (page: Page, without: readonly string[]) =>
  without.reduce(
    (axe, part) => axe.exclude(part),
    axeOf(page).withTags(["wcag2a", "wcag2aa"]).disableRules(["color-contrast"]),
  );

/** The looks that were judged in a theme: letters that look the same, on the same ground, are as readable on the next page. */
type Judged = Record<"light" | "dark", Set<string>>;

/**
 * What is hard to read by its colours, judged by what the first judgement of this page brought along. Letters that look the same on
 * the same ground are judged once, whatever page they are on: most rows of a table do, and most fields of all forms.
 */
async function hardToRead(
  page: Page,
  theme: "light" | "dark",
  judged: Judged,
  without: readonly string[],
): Promise<Violations> {
  await wear(page, theme);
  const known = [...judged[theme]];
  const { looks, violations } = await page.evaluate(
    async ([parts, judgedBefore]) => {
      const { axe } = window as unknown as {
        axe: { run(context: object, options: object): Promise<{ violations: Violations }> };
      };
      const grounds = new Map<Element, string>();
      /** What an element's letters stand on, from the page down to it; what can be seen through adds nothing. */
      const groundOf = (element: Element): string => {
        const before = grounds.get(element);
        if (before !== undefined) return before;
        const s = getComputedStyle(element);
        const own = [s.backgroundColor, s.backgroundImage, s.opacity].join();
        const above = element.parentElement ? groundOf(element.parentElement) : "";
        const ground = own === "rgba(0, 0, 0, 0),none,1" ? above : `${above}/${own}`;
        grounds.set(element, ground);
        return ground;
      };
      const lookOf = (element: Element) => {
        const s = getComputedStyle(element);
        return [groundOf(element), s.color, s.fontSize, s.fontWeight].join();
      };
      const written = [...document.body.querySelectorAll("*")]
        .filter((e) => !parts.some((part) => e.closest(part)))
        .filter(
          (e) =>
            e.matches("input, textarea, select") ||
            [...e.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.textContent?.trim()),
        );
      const judgedLooks = new Set(judgedBefore);
      const first = new Map<string, Element>();
      for (const element of written) {
        const look = lookOf(element);
        if (!judgedLooks.has(look) && !first.has(look) && element.checkVisibility()) first.set(look, element);
      }
      if (first.size === 0) return { looks: [], violations: [] };
      const only = { type: "rule", values: ["color-contrast"] };
      const options = { runOnly: only, resultTypes: ["violations"] };
      const { violations } = await axe.run({ include: [...first.values()] }, options);
      return { looks: [...first.keys()], violations };
    },
    [without, known] as const,
  );
  for (const look of looks) judged[theme].add(look);
  return violations;
}

const wear = (page: Page, theme: "light" | "dark") =>
  page.evaluate((name) => {
    document.documentElement.dataset.theme = name;
    // What is laid out only when it comes near changes its colours only then.
    for (const part of document.querySelectorAll("section")) part.style.contentVisibility = "visible";
  }, theme);

test("the calculators answer over HTTP as on the command line", async ({ request }) => {
  const list = await (await request.get("/api/calculators")).json();
  expect(list.map((c: { id: string }) => c.id)).toContain("ph-calibration");
  expect(list[0].input.type).toBe("object");
  const answer = await request.post("/api/calculators/ph-buffer", {
    data: { buffer: "phosphate", temperature_c: 25 },
  });
  expect(await answer.json()).toMatchObject({ id: "ph-buffer", outputs: { ph: 6.865 }, warnings: [] });
  const bad = await request.post("/api/calculators/ph-buffer", { data: { buffer: "phosphate" } });
  expect(bad.status()).toBe(422);
  expect(await bad.json()).toEqual({
    id: "ph-buffer",
    errors: [{ path: "temperature_c", message: "Give temperature_c." }],
  });
  const noJson = await request.post("/api/calculators/ph-buffer", { data: Buffer.from("{") });
  expect(noJson.status()).toBe(422);
  expect((await request.post("/api/calculators/alchemy", { data: {} })).status()).toBe(404);
});

test("the server tells the truth of itself when its database file goes away", async ({ server, request }) => {
  expect((await request.get("/health")).status()).toBe(200);
  server.lose();
  const answer = await request.get("/health");
  expect(answer.status()).toBe(503);
  expect((await answer.json()).message).toMatch(/\.$/);
});

test.describe("with nobody at the bench", () => {
  test.use({ person: "nobody" });
  test("strangers are led to the sign-in and nowhere else", async ({ page, request }) => {
    await page.goto("/ledger?verdict=sound");
    await expect(page.getByRole("heading", { name: "Who is at the bench?" })).toBeVisible();
    await page.getByRole("link", { name: /Idris/ }).click();
    await page.getByRole("button", { name: "Go on" }).click();
    await expect(page.getByText("Type your password.")).toBeVisible();
    await page.getByLabel("Your password").fill("reed bed mill beat");
    await page.keyboard.press("Enter");
    await expect(page.getByText("This is not right. Try again.")).toBeVisible();
    await page.getByLabel("Your password").fill(demo.password);
    await page.keyboard.press("Enter");
    await expect(page).toHaveURL(/ledger\?verdict=sound/);
    const forged = await request.get("/ledger", {
      headers: { Cookie: "session=ImZvcmdlZCI%3D" },
      maxRedirects: 0,
    });
    expect(forged.status()).toBe(302);
    const stranger = await request.post("/people", {
      form: { do: "add", name: "Wren", role: "manager" },
      maxRedirects: 0,
    });
    expect(stranger.status()).toBe(302);
    expect(stranger.headers().location).toMatch(/^\/sign-in/);
    const person = /as=([^"&]+)[^>]*>Idris/.exec(await (await request.get("/sign-in")).text())?.[1] ?? "";
    const away = await request.post("/sign-in?next=//elsewhere.example", {
      form: { person, do: "password", password: demo.password },
      maxRedirects: 0,
    });
    expect(away.headers().location).toBe("/");
  });

  test("the server says how it is and guards its pages", async ({ request }) => {
    expect(await (await request.get("/health")).json()).toEqual({ status: "ok" });
    const { headers } = { headers: (await request.get("/sign-in")).headers() };
    expect(headers["content-security-policy"]).toContain("script-src 'self' 'nonce-");
    expect(headers["x-content-type-options"]).toBe("nosniff");
    expect((await request.get("/ledger", { maxRedirects: 0 })).status()).toBe(302);
    expect(headers["cache-control"]).toBe("private, no-store");
  });
});

/** Every page; those of things that have addresses of their own are found on the pages that lead to them. */
const paths = [
  [
    "/",
    "/due",
    "/meters",
    "/meters/new",
    "/meters#meter",
    "/meters#calibrate",
    "/meters#read",
    "/stock",
    "/stock/new",
    "/stock/waste",
    "/people",
    "/me",
    "/imports",
    "/upkeep",
    "/rules",
  ],
  [
    "/ledger?verdict=qualified",
    "/ledger?parameter=ph&chart=1",
    "/sites",
    "/sites/limits",
    "/sites/along",
    "/visits",
  ],
  [
    "/meters#calibration",
    "/meters#certificate",
    "/meters#service",
    "/solutions",
    "/runs",
    "/runs/plan",
    "/solutions/ph-calibration",
    "/solutions/stagger",
  ],
  [
    "/sites#site",
    "/visits#visit",
    "/runs/new/oxygen-burette",
    "/runs/new/alkalinity-curve",
    "/runs/new/phosphate-photometer",
    "/methods/nitrite-nitrate-strip",
    "/methods/oxygen-drops/edit",
  ],
  [
    "/samples?which=all",
    "/samples#sample",
    "/samples/new",
    "/custody",
    "/custody#batch",
    "/bottles",
    "/visits/rounds/new",
    "/visits/purge-table",
    "/stock#titrant",
    "/stock#titrant/standardise",
  ],
];

/** The address of a page that bears an id, as the pages that lead there write it. */
async function addressOf({ request }: Page, path: string): Promise<string> {
  const [list = "", what] = path.split("#");
  if (!what) return path;
  const found = async (page: string, link: RegExp) => {
    const [, main = ""] = (await (await request.get(page)).text()).split("<main");
    const address = link.exec(main)?.[1];
    if (!address) throw new Error(`Nothing on ${page} leads to ${path}.`);
    return address;
  };
  const named = (name: string) => new RegExp(`<a [^>]*href="([^"?]+)"[^>]*>${name}`);
  const inTable = /<table.*?<a [^>]*href="([^"]+)"/s;
  if (what.startsWith("titrant"))
    return `${await found(list, named("Lot (?:<!-- -->)?TS-23"))}${what.slice("titrant".length)}`;
  if (["visit", "batch", "sample"].includes(what)) return found(list, inTable);
  if (what === "service") return found(await found(list, named("M-1")), /<a [^>]*href="(\/services\/[^"]+)"/);
  const address = await found(list, named(what === "site" ? "Bathing pond" : "P-2"));
  if (what === "calibrate" || what === "read") return `${address}/${what}`;
  if (what === "certificate") return `${await found(address, inTable)}/certificate`;
  return what === "calibration" ? found(address, inTable) : address;
}

/** Lines of lists whose parts lie on one another, or reach beyond the line, where they are cut off. */
function crowdedLines(): (string | null)[] {
  const crowded = (line: Element) => {
    const parts = [...line.children].filter((part) => part.checkVisibility());
    const boxes = parts.map((part) => part.getBoundingClientRect());
    const { right } = line.getBoundingClientRect();
    return (
      parts.some(
        (part) => part.scrollWidth > part.clientWidth + 1 && getComputedStyle(part).display !== "inline",
      ) ||
      boxes.some(
        (one, i) =>
          one.right > right + 1 ||
          boxes
            .slice(i + 1)
            .some(
              (other) =>
                one.left < other.right - 1 &&
                other.left < one.right - 1 &&
                one.top < other.bottom - 1 &&
                other.top < one.bottom - 1,
            ),
      )
    );
  };
  return [...document.querySelectorAll(".list > li")].filter(crowded).map((line) => line.textContent);
}

/** Holds that a page is no wider than the screen it is on (what is wide scrolls by itself), and can be pressed on a phone. */
async function expectToFit(page: Page, path: string): Promise<void> {
  const whole = page.viewportSize();
  for (const width of [1280, 1000, 768, 390]) {
    await page.setViewportSize({ width, height: 844 });
    // A chart follows a moment later.
    const wide = () => page.evaluate(() => document.documentElement.scrollWidth);
    await expect.poll(wide, { message: `${path} at ${width}`, timeout: 5000 }).toBeLessThanOrEqual(width);
    expect(await page.evaluate(crowdedLines), `${path} at ${width}`).toEqual([]);
  }
  // On the phone: what is pressed with a wet glove is large enough.
  const small = await page
    .locator(".act, .calm, main summary")
    .evaluateAll((all) =>
      all
        .filter((one) => one.checkVisibility() && one.getBoundingClientRect().height < 48)
        .map((one) => one.textContent),
    );
  expect(small, path).toEqual([]);
  if (whole) await page.setViewportSize(whole);
}

for (const some of paths) {
  test(`${some.join(" ")}: answer, write no error to the browser's console, are no wider than their screen, and are readable in light and dark colours (WCAG AA)`, async ({
    page,
  }) => {
    const complaints: string[] = [];
    page.on("console", (m) => m.type() === "error" && complaints.push(m.text()));
    page.on("pageerror", (e) => complaints.push(String(e)));
    const seen: Judged = { light: new Set(), dark: new Set() };
    for (const path of some) {
      const answer = await page.goto(await addressOf(page, path));
      expect(answer?.status(), path).toBe(200);
      await page.waitForLoadState("load");
      const judged = path === "/" ? [] : beside;
      await expectReadable(page, readableButColours(page, judged));
      expectNone(await hardToRead(page, "light", seen, judged), path);
      // Only the colours differ in the dark.
      expectNone(await hardToRead(page, "dark", seen, judged), `${path} in the dark`);
      await expectToFit(page, path);
    }
    expect(complaints).toEqual([]);
  });
}

test("who asked for no motion gets none", async ({ page }) => {
  await page.emulateMedia({ reducedMotion: "reduce" });
  await page.goto("/runs");
  await wear(page, "dark");
  expect(await page.evaluate(() => document.getAnimations().length)).toBe(0);
});

test("a page's faces and styles come with its first lines, and what it is built on begins before it", async ({
  page,
}) => {
  await page.goto("/stock");
  await expect(page.getByRole("main").getByText("µS/cm").first()).toBeVisible();
  // A face that only a style sheet asks for arrives after the first layout, and the page is laid out twice.
  const faces = await page.evaluate(() =>
    (performance.getEntriesByType("resource") as PerformanceResourceTiming[])
      .filter((file) => file.name.endsWith(".woff2"))
      .map((file) => [new URL(file.name).pathname.split("/").pop()?.split("-")[0], file.initiatorType]),
  );
  expect(faces.sort()).toEqual([
    ["atkinson", "link"],
    ["atkinson", "link"],
    ["micro", "link"],
  ]);
  // The view library is evaluated in a task of its own.
  await expect(page.locator('script[type="module"][async][src*="/view-"]')).toHaveCount(1);
  // All styles are in the sheets that come with the page: the component library puts none in.
  await expect(page.locator("style")).toHaveCount(0);
});

test("a page nobody knows says so and leads back", async ({ page }) => {
  await page.goto("/meters/none");
  await expect(page.getByRole("heading", { name: "There is nothing at this address" })).toBeVisible();
});
