// After npm has installed: whoever installs by hand is not made to install again by the next command.
import { stampPackages } from "./lib/steps.mjs";

stampPackages();
