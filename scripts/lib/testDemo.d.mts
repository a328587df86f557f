export const storyEnd: string;
export function loadTestDemo(file: string): Promise<void>;
