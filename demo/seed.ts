import { openRuntime } from "#server/runtime";
import { installProfiles } from "#server/profiles/profiles";
import { readSettings } from "#server/settings";
import { placeProfiles } from "./profiles";
import { demoOwner, seed } from "./scenario";

const settings = readSettings(process.env, { production: false });
await placeProfiles(settings.profilesFolder, process.env.STANDINS_ORIGIN ?? "http://localhost:4100");
const rt = await openRuntime(settings, { root: process.cwd() });
await installProfiles(rt, settings.profilesFolder);
await seed(rt, process.env.SHOP_ORIGIN ?? "http://localhost:4200");
rt.db.close();
console.log(JSON.stringify({ signIn: demoOwner }));
