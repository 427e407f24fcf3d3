import {
  Autocomplete,
  Dialog,
  Heading,
  Input,
  ListBox,
  ListBoxItem,
  Modal,
  ModalOverlay,
  SearchField,
  useFilter,
} from "react-aria-components";
import { useNavigate } from "react-router";
import { styled } from "styled-components";
import { stations } from "#core/track";
import { color } from "../theme/tokens";
import { stationKeys, stationNames } from "./line";

const Over = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgb(0 0 0 / 0.35);
  display: grid;
  justify-items: center;
  align-items: start;
  padding: 10vh 1rem 1rem;
  z-index: 20;
`;
const Box = styled(Modal)`
  width: min(32rem, 100%);
  background: ${color.sheet};
  border: 2px solid ${color.ink};
  padding: 1rem 1.2rem;
  input {
    width: 100%;
    min-height: 2.4rem;
    padding: 0.3rem 0.6rem;
    margin: 0.6rem 0;
    border: 1.5px solid ${color.ruleStrong};
    background: ${color.sheet};
  }
`;
const Place = styled(ListBoxItem)`
  display: flex;
  justify-content: space-between;
  padding: 0.4rem 0.6rem;
  cursor: pointer;
  outline: none;
  &[data-focused] {
    background: ${color.petrolSoft};
  }
  kbd {
    border: 1px solid ${color.ruleStrong};
    padding: 0 0.4rem;
  }
`;

/** Places to go to, found by typing, with the keys that lead there. */
export default function KeySheet({ storefrontId, onClose }: { storefrontId: string; onClose: () => void }) {
  const navigate = useNavigate();
  const { contains } = useFilter({ sensitivity: "base" });
  const at = `/s/${storefrontId}`;
  const places = [
    { to: at, name: "Home", key: "h" },
    ...stations.map((one) => ({ to: `${at}/${one}`, name: stationNames[one], key: stationKeys[one] })),
    { to: `${at}/operate/webhooks?mode=test`, name: "Webhooks received", key: "" },
    { to: `${at}/operate?mode=live`, name: "Live payments", key: "" },
    { to: `${at}/plan/costs`, name: "Costs", key: "" },
    { to: `${at}/plan/list`, name: "Shortlist", key: "" },
    { to: `${at}/exchanges`, name: "What was said: exchanges with providers", key: "" },
    { to: `${at}/shop`, name: "The shop’s side: keys, stages, news", key: "" },
    { to: "/profiles", name: "Profiles of providers", key: "" },
    { to: "/audit", name: "Audit trail", key: "" },
  ];
  return (
    <Over isOpen isDismissable onOpenChange={(open) => !open && onClose()}>
      <Box>
        <Dialog>
          <Heading slot="title">Places and keys</Heading>
          <Autocomplete filter={contains}>
            <SearchField aria-label="Find a place" autoFocus>
              <Input placeholder="Type to find a place" />
            </SearchField>
            <ListBox
              aria-label="Places"
              items={places}
              onAction={(key) => {
                onClose();
                void navigate(String(key));
              }}
            >
              {(place) => (
                <Place id={place.to} textValue={place.name}>
                  <span>{place.name}</span>
                  {place.key && <kbd>{place.key}</kbd>}
                </Place>
              )}
            </ListBox>
          </Autocomplete>
          <p>
            <kbd>/</kbd> search, <kbd>?</kbd> or <kbd>Ctrl K</kbd> this sheet
          </p>
        </Dialog>
      </Box>
    </Over>
  );
}
