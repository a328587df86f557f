import type { BrowserContext } from "@playwright/test";
import { storyEnd } from "../../scripts/lib/testDemo.mjs";
import { shiftDate } from "./shiftDate.mjs";

const ahead = () => Number(process.env.BRINTEL_STORY_AHEAD);
let entered = false;

/** From now on it is the day on which the story ends, in this process and in those that it begins. Asked again it does nothing. */
export function enterStory(): void {
  process.env.BRINTEL_STORY_AHEAD ??= String(Date.parse(storyEnd) - Date.now());
  if (!entered) shiftDate(ahead());
  entered = true;
}

/** Gives the pages of a browser the day of the story too. */
export const inTheStory = (context: BrowserContext) => context.addInitScript(shiftDate, ahead());
