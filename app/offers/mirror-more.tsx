import { CheckBox } from "../parts/check-box";
import { SelectBox } from "../parts/select-box";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/offers";

/** What of an order and its shopper only rules ask about, as text. */
export interface More {
  postcode: string;
  kinds: string;
  delivery: string;
  kilograms: string;
  returning: boolean;
  device: "phone" | "computer";
}
export const NO_MORE: More = {
  ...{ postcode: "", kinds: "", delivery: "", kilograms: "", returning: false },
  device: "computer",
};

/** The rest of a shopper and a basket, where rules ask for it. */
export function MirrorMore({ more, onChange }: { more: More; onChange: (change: Partial<More>) => void }) {
  const texts: [keyof More & ("postcode" | "kinds" | "delivery" | "kilograms"), string][] = [
    ["postcode", t("postcode-it-goes-to")],
    ["kinds", t("kinds-of-goods")],
    ["delivery", t("way-of-delivery")],
    ["kilograms", t("weight-in-kg")],
  ];
  return (
    <>
      {texts.map(([name, label]) => (
        <TextBox
          key={name}
          label={label}
          value={more[name]}
          maxLength={60}
          onChange={(text) => onChange({ [name]: text })}
        />
      ))}
      <SelectBox
        label={t("device")}
        value={more.device}
        onChange={(chosen) => onChange({ device: chosen as More["device"] })}
        choices={[
          { id: "computer", name: t("computer") },
          { id: "phone", name: t("phone") },
        ]}
      />
      <CheckBox checked={more.returning} onChange={(on) => onChange({ returning: on })}>
        {t("ordered-before")}
      </CheckBox>
    </>
  );
}
