export function embedScript(): Promise<string>;
