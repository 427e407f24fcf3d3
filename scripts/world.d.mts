import type { ChildProcess } from "node:child_process";

export interface Ports {
  zahlung: number;
  standins: number;
  shop: number;
}
export interface Environment {
  zahlung: Record<string, string>;
  standins: Record<string, string>;
  shop: Record<string, string>;
  origins: { zahlung: string; standins: string; shop: string };
}
export interface World {
  env: Environment;
  signIn: { email: string; name: string; password: string };
  zahlung: ChildProcess;
  standins: ChildProcess;
  shop: ChildProcess;
  log(name: string): number | undefined;
  end(): Promise<void>;
}
export function environment(place: string, ports: Ports): Environment;
export function startZahlung(env: Environment, log?: number): ChildProcess;
export function startWorld(
  place: string,
  ports: Ports,
  options?: { logs?: boolean; masterKey?: string },
): Promise<World>;
export function forget(place: string): void;
