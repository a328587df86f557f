import { StrictMode, startTransition } from "react";
import { HydratedRouter } from "react-router/dom";
import { takeOver } from "./viewLibrary";

startTransition(() => {
  takeOver(
    document,
    <StrictMode>
      <HydratedRouter />
    </StrictMode>,
  );
});
