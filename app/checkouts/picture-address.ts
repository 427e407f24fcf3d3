import type { PictureRef } from "#core/looks/look";

/** Where a kept picture is served. */
export const pictureAddress = ({ id }: PictureRef): string => `/pictures/${id}.png`;
