import { profileSchema } from "#core/profiles/read-profile";

/** The published schema of profiles (JSON Schema 2020-12), for editors and for whoever writes one. */
export const loader = () =>
  new Response(JSON.stringify(profileSchema, null, 2), {
    headers: { "content-type": "application/schema+json; charset=utf-8", "access-control-allow-origin": "*" },
  });
