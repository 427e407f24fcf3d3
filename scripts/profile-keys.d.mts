export function profileKeys(): Promise<{ file: string; text: string }>;
