/**
 * Remembers what was made of a text, for texts that always come to the same: so many of them, then it begins anew. What is given out is
 * shared by all who ask, and changed by nobody.
 */
export function remembered<T>(most: number, make: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>();
  return (text) => {
    const before = known.get(text);
    if (before !== undefined) return before;
    const made = make(text);
    if (known.size >= most) known.clear();
    known.set(text, made);
    return made;
  };
}
