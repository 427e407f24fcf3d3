import type { ChildProcess } from "node:child_process";

export const root: string;
export function freePort(): Promise<number>;
export function untilAnswers(name: string, address: string, child: ChildProcess, ms?: number): Promise<void>;
export function end(children: ChildProcess[]): Promise<void>;
