export function profileTypes(): Promise<{ file: string; text: string }>;
