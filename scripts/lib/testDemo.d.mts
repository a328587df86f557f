export function loadTestDemo(file: string): Promise<void>;
