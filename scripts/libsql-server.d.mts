export const hasLibsqlServer: boolean;
export function libsqlServer(): string;
