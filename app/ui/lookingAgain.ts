/**
 * One look at a time at what others may have changed: asks first, and loads only when something did. Whoever calls while it
 * looks has it look once more. `sure` loads in any case, once the server has answered at all: what was sent from here may be in a part of
 * what was loaded just before, and not in the rest of it, which was read a moment earlier. Errors: none; what is not reached stays.
 */
export function lookingAgain(
  ask: () => Promise<boolean>,
  load: () => Promise<void>,
): (sure?: boolean) => Promise<void> {
  let looking = false;
  let again = false;
  let owed = false;
  return async (sure = false) => {
    owed ||= sure;
    again = looking;
    if (looking) return;
    looking = true;
    try {
      do {
        again = false;
        const news = await ask();
        const due = owed;
        owed = false;
        if (news || due) await load();
      } while (again);
    } catch {
      // What is shown stays, and the next look may do better.
    } finally {
      looking = false;
    }
  };
}
