export function ensurePostgres(): Promise<boolean>;
export function startPostgres(options?: { durable?: boolean }): Promise<{
  url: string;
  start(): Promise<void>;
  kill(): Promise<void>;
  stop(): Promise<void>;
}>;
