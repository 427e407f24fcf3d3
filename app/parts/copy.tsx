import { Check, Copy } from "lucide-react";
import { useEffect, useState } from "react";
import { styled } from "styled-components";
import { color, mono } from "../theme/tokens";
import { t } from "../words/pages/everywhere";

const Press = styled.button`
  display: inline-flex;
  align-items: center;
  gap: 0.4rem;
  max-width: 100%;
  padding: 0.1rem 0.35rem;
  border: 1px solid transparent;
  border-radius: 2px;
  background: none;
  cursor: pointer;
  text-align: left;
  min-height: 1.6rem;
  &:hover {
    border-color: ${color.petrol};
    color: ${color.petrol};
  }
  svg {
    flex: none;
  }
`;
const Text = styled.span<{ $plain: boolean }>`
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  ${({ $plain }) => !$plain && `font-family: ${mono}; font-size: 0.88em;`}
`;

/** Copies a value with one press. Shows `label` instead of the value where that is given. */
export function CopyValue({
  value,
  label,
  plain = false,
}: {
  value: string;
  label?: string;
  plain?: boolean;
}) {
  const [copied, setCopied] = useState(false);
  useEffect(() => {
    if (!copied) return;
    const timer = setTimeout(() => setCopied(false), 1600);
    return () => clearTimeout(timer);
  }, [copied]);
  return (
    <Press
      type="button"
      title={t("copy")}
      onClick={() => void navigator.clipboard.writeText(value).then(() => setCopied(true))}
    >
      <Text $plain={plain}>{label ?? value}</Text>
      {copied ? <Check size={14} aria-hidden /> : <Copy size={14} aria-hidden />}
      <span className="quiet" aria-live="polite">
        {t("copied", { hasCopied: copied ? "yes" : "no" })}
      </span>
    </Press>
  );
}
