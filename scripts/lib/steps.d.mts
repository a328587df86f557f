export function ensurePackages(options?: { quiet?: boolean }): Promise<void>;
export function ensureBuild(options?: { force?: boolean }): Promise<void>;
