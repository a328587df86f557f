import { expect, test } from "./server";
import { byTouch, calibrate, choosePerson, station } from "./steps";

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

test.describe("from the sign-in", () => {
  test.use({ person: "nobody" });
  test("the whole path by touch on a phone", async ({ page }) => {
    await choosePerson(page, "touch");
    await page.getByRole("link", { name: "Calibrate P-2", exact: true }).last().tap();
    await page.getByRole("button", { name: /^Start/ }).tap();
    await calibrate(page, byTouch);
    await expect(page.getByRole("status")).toContainText("Sound");

    await page.getByRole("link", { name: "Take a reading" }).tap();
    await page.getByRole("button", { name: /^Start/ }).tap();
    await station(page, byTouch);
    await station(page, byTouch);
    await byTouch(page, /^Judge this reading/);
    await expect(page.getByRole("status")).toContainText("Sound.");

    await page.getByRole("link", { name: "In the ledger" }).tap();
    await expect(page.getByRole("complementary", { name: "What this reading rests on" })).toContainText(
      "Buffer bottles",
    );
  });
});
