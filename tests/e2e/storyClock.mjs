// Read by a server's process, and by each thread of it, before anything else: its day is the story's.
import { shiftDate } from "./shiftDate.mjs";

shiftDate(Number(process.env.BRINTEL_STORY_AHEAD));
