import { mkdir, readdir, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";

/** Writes the shipped profiles with the address that the simulated providers listen at here. */
export async function placeProfiles(folder: string, standinsOrigin: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const name of (await readdir("profiles")).filter((one) => one.endsWith(".json"))) {
    const text = await readFile(join("profiles", name), "utf8");
    await writeFile(
      join(folder, name),
      text
        .replaceAll("http://localhost:4100", standinsOrigin)
        .replaceAll("http://127.0.0.1:4100", standinsOrigin.replace("//localhost:", "//127.0.0.1:")),
    );
  }
}
