export function program(file: string): string;
