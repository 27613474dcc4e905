import { Flex, Text } from "@chakra-ui/react";

type Props = {
  label: string;
  hideLabel?: boolean;
  value: string;
  options: readonly { value: string; text: string }[];
  onPick: (value: string) => void;
  wrong?: boolean;
};

/** One of many; the browser's own list, which every keyboard and screen reader knows. */
export function Select({ label, hideLabel = false, value, options, onPick, wrong = false }: Props) {
  return (
    <Flex asChild direction="column" gap="0.5" fontSize="13px">
      <label>
        {!hideLabel && (
          <Text color="mute" fontSize="13px">
            {label}
          </Text>
        )}
        <select
          aria-label={label}
          aria-invalid={wrong}
          value={value}
          onChange={(event) => onPick(event.target.value)}
          style={{
            height: 32,
            padding: "0 6px",
            fontSize: 13.5,
            color: "var(--chakra-colors-ink)",
            background: "var(--chakra-colors-panel)",
            border: `1px solid var(--chakra-colors-${wrong ? "late" : "edge"})`,
            borderRadius: 4,
          }}
        >
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.text}
            </option>
          ))}
        </select>
      </label>
    </Flex>
  );
}
