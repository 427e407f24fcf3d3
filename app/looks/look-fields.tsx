import {
  accentTrouble,
  type Agreement,
  type Corner,
  type Face,
  groundTrouble,
  type Light,
  type Look,
  standing,
} from "#core/looks/look";
import { nameOfCode } from "#core/places/names";
import { CheckBox } from "../parts/check-box";
import { Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Pairs, Sheet, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { ColourBox } from "./colour-box";
import { missing, type Texts } from "./draft";

const cornerNames: Record<Corner, string> = { square: "Square", soft: "A little round", round: "Round" };
const faceNames: Record<Face, string> = {
  plain: "Plain",
  serif: "With serifs",
  device: "The shopper’s device’s own",
};
const lightNames: Record<Light, string> = {
  device: "As the shopper’s device is set",
  light: "Always light",
  dark: "Always dark",
};
const agreementNames: Record<Agreement, string> = {
  none: "Not shown",
  told: "A link",
  required: "The shopper has to agree",
};

/** The boxes of a part of the look: what stands in them, who hears what is typed, and what is wrong at each. */
interface PartProps {
  texts: Texts;
  put: (name: string) => (text: string) => void;
  wrong: (path: string) => string | undefined;
}

export function ColourFields({ look, texts, put, wrong }: PartProps & { look: Look }) {
  return (
    <Sheet>
      <Stack>
        <h2>Colours and type</h2>
        <Pairs>
          <ColourBox
            name="accent"
            label="Accent"
            hint="Of presses, links and what is chosen. Empty: ours."
            usual={standing.light.accent}
            text={texts.accent ?? ""}
            onText={put("accent")}
            trouble={accentTrouble(look)}
            wrong={wrong("accent")}
          />
          <ColourBox
            name="ground"
            label="Ground"
            hint={
              look.light === "dark"
                ? "Behind everything. Empty: ours."
                : "Behind everything, where the page is light. Empty: ours."
            }
            usual={look.light === "dark" ? standing.dark.paper : standing.light.paper}
            text={texts.ground ?? ""}
            onText={put("ground")}
            trouble={groundTrouble(look)}
            wrong={wrong("ground")}
          />
          <Choice name="light" label="Light" names={lightNames} texts={texts} put={put} />
          <Choice name="corner" label="Corners" names={cornerNames} texts={texts} put={put} />
          <TextBox
            name="mostShown"
            label="Ways of paying shown at once"
            hint="The others open under “More ways to pay”. Empty: all."
            inputMode="numeric"
            maxLength={2}
            placeholder="All"
            value={texts.mostShown ?? ""}
            onChange={put("mostShown")}
            wrong={wrong("mostShown")}
          />
          <TextBox
            name="mostButtons"
            label="Buttons that pay, on one of the shop’s pages"
            hint="The first so many of the offers’ order. Empty: all."
            inputMode="numeric"
            maxLength={2}
            placeholder="All"
            value={texts.mostButtons ?? ""}
            onChange={put("mostButtons")}
            wrong={wrong("mostButtons")}
          />
          <Choice name="face" label="Type" names={faceNames} texts={texts} put={put} />
        </Pairs>
        <CheckBox
          name="remembers"
          value="yes"
          checked={texts.remembers === "yes"}
          onChange={(on) => put("remembers")(on ? "yes" : "")}
        >
          Choose again what the same e-mail address was paid with last
        </CheckBox>
        <Small>
          An accent that would be hard to read in the other light is made lighter or darker there by itself.
        </Small>
      </Stack>
    </Sheet>
  );
}

export function TermFields({ languages, texts, put, wrong }: PartProps & { languages: readonly string[] }) {
  return (
    <Sheet>
      <Stack>
        <h2>Terms, privacy and help</h2>
        <Choice name="terms" label="Terms of sale" names={agreementNames} texts={texts} put={put} />
        {languages.map((language) => (
          <Pairs key={language}>
            {texts.terms !== "none" && (
              <TextBox
                name={`terms-${language}`}
                type="url"
                label={`Terms in ${nameOfCode("language", language)}`}
                value={texts[`terms-${language}`] ?? ""}
                onChange={put(`terms-${language}`)}
                wrong={wrong(`terms-${language}`)}
                hint={missing(texts, "terms", language, languages)}
              />
            )}
            <TextBox
              name={`privacy-${language}`}
              type="url"
              label={`Privacy in ${nameOfCode("language", language)}`}
              value={texts[`privacy-${language}`] ?? ""}
              onChange={put(`privacy-${language}`)}
              wrong={wrong(`privacy-${language}`)}
              hint={missing(texts, "privacy", language, languages)}
            />
          </Pairs>
        ))}
        <Pairs>
          {(
            [
              ["email", "E-mail for questions", "email"],
              ["phone", "Telephone for questions", "tel"],
              ["page", "Page with help", "url"],
            ] as const
          ).map(([name, label, type]) => (
            <TextBox
              key={name}
              name={name}
              type={type}
              label={label}
              value={texts[name] ?? ""}
              onChange={put(name)}
              wrong={wrong(name)}
            />
          ))}
        </Pairs>
      </Stack>
    </Sheet>
  );
}

/** `mails`: whether there is a mail server that they go by. */
export function ReceiptFields({ mails, texts, put }: Omit<PartProps, "wrong"> & { mails: boolean }) {
  return (
    <Sheet>
      <Stack>
        <h2>Receipts</h2>
        <CheckBox
          name="receipts"
          value="yes"
          checked={texts.receipts === "yes"}
          onChange={(on) => put("receipts")(on ? "yes" : "")}
        >
          Send shoppers their receipts by e-mail
        </CheckBox>
        <Small>
          When an order is placed that is still to be paid, with how to pay it; when it is paid; when money
          goes back. In the shopper’s language, to the address that the shop gives with the order. Answers go
          to the e-mail for questions.
        </Small>
        {!mails && texts.receipts === "yes" && (
          <Says meaning="waits">No mail server is set (ZAHLUNG_SMTP_URL): receipts wait until one is.</Says>
        )}
      </Stack>
    </Sheet>
  );
}

function Choice<T extends string>({
  name,
  label,
  names,
  texts,
  put,
}: {
  name: string;
  label: string;
  names: Record<T, string>;
  texts: Texts;
  put: (name: string) => (text: string) => void;
}) {
  return (
    <SelectBox
      label={label}
      name={name}
      value={texts[name]}
      onChange={put(name)}
      choices={Object.entries<string>(names).map(([id, text]) => ({ id, name: text }))}
    />
  );
}
