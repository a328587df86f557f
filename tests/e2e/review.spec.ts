import demo from "../../demo/signIn.json" with { type: "json" };
import { expect, test } from "./server";
import { expectReadable } from "./steps";

test.describe("a reviewer's day", () => {
  test.use({ person: "Maren" });

  test("what is not simply sound is looked at, the shift is signed by keyboard, reported, and everything fits", async ({
    page,
    server,
  }) => {
    await page.goto("/");
    await page
      .getByRole("navigation", { name: "The day" })
      .getByRole("link", { name: /Review and sign/ })
      .click();
    await expect(page.getByRole("heading", { name: "Review", exact: true })).toBeVisible();
    await page
      .getByRole("list", { name: "Shifts to review" })
      .getByRole("link", { name: /Wed 25 Nov/ })
      .click();
    const cards = page.getByRole("region", { name: "To be looked at" }).locator("form");
    const several = cards.filter({ has: page.getByRole("button", { name: /^Tick/ }) }).first();
    await several.getByRole("button", { name: "Looked at" }).click();
    await expect(several.getByText("Tick what you looked at.")).toBeVisible();
    await several.getByRole("button", { name: "Tick all" }).press("Space");
    await several.getByRole("button", { name: "Looked at" }).press("Enter");
    await expect(several.getByText("Say what you saw")).toBeVisible();
    await several.getByLabel("What you saw").fill("High water after the rain");
    await page.keyboard.press("Enter");
    await expect(page.getByRole("region", { name: "Looked at", exact: true })).toContainText(
      "High water after the rain",
    );
    // The evidence of the next one beside it, then the shift goes on where it was, also after a reload.
    await cards.first().getByRole("link").first().click();
    await expect(page.getByRole("complementary")).toContainText("Findings");
    await page.reload();
    await page.getByRole("link", { name: "Close the evidence" }).click();
    while ((await cards.count()) > 0) {
      const before = await cards.count();
      const all = cards.first().getByRole("button", { name: "Tick all" });
      if (await all.isVisible()) await all.click();
      await cards.first().getByLabel("What you saw").fill("Seen; the note stands.");
      await page.keyboard.press("Enter");
      await expect(cards).toHaveCount(before - 1);
    }
    await page.getByLabel("A word on the shift").fill("The old probe is to be renewed.");
    await page.getByLabel("Your password").fill("not hers");
    await page.keyboard.press("Enter");
    await expect(page.getByText("This is not right. Try again.")).toBeVisible();
    await expect(page.getByLabel("A word on the shift")).toHaveValue("The old probe is to be renewed.");
    await page.getByLabel("Your password").fill(demo.password);
    await page.keyboard.press("Enter");
    await expect(page.getByText(/results signed by Maren Tolbrook/)).toBeVisible();
    await expect(page.getByText("Nothing is left to sign.")).toBeVisible();
    await expectReadable(page);

    await page.getByRole("link", { name: "The report of this shift" }).click();
    await expect(page).toHaveURL(/\/report$/);
    await expect(page.getByText("The old probe is to be renewed.")).toBeVisible();
    const pdf = await page.request.get(`${server.url}${new URL(page.url()).pathname}.pdf`);
    expect(pdf.headers()["content-type"]).toBe("application/pdf");
    expect((await pdf.body()).subarray(0, 5).toString()).toBe("%PDF-");

    await page.goto("/journal");
    await page.getByRole("button", { name: "Check everything now" }).click();
    await expect(page.getByText("Everything fits.")).toBeVisible({ timeout: 60_000 });
    await page.locator("summary").filter({ hasText: "shift signed" }).first().click();
    await expect(
      page
        .getByText("Sealed", { exact: false })
        .or(page.getByText("hash", { exact: true }))
        .first(),
    ).toBeVisible();
    await expectReadable(page);
  });
});
