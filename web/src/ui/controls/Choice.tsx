import { Button, type ButtonProps, Flex, Text } from "@chakra-ui/react";

type Props<T extends string> = {
  label: string;
  options: readonly { value: T; text: string; disabled?: boolean; title?: string }[];
  value: T;
  onPick: (value: T) => void;
};

/** One of a few, all of them in view. */
export function Choice<T extends string>({ label, options, value, onPick }: Props<T>) {
  return (
    <Flex role="group" aria-label={label} align="center" gap="1.5" wrap="wrap">
      <Text color="mute" fontSize="13px" mr="0.5">
        {label}
      </Text>
      {options.map((option) => {
        const on = option.value === value;
        return (
          <OnOff key={option.value} on={on} disabled={option.disabled ?? false} title={option.title ?? ""} onClick={() => onPick(option.value)}>
            {option.text}
          </OnOff>
        );
      })}
    </Flex>
  );
}

type OnOffProps = ButtonProps & { on: boolean };

/** A button that stays pressed while it holds. */
export function OnOff({ on, ...rest }: OnOffProps) {
  return (
    <Button
      h="32px"
      px="2.5"
      fontSize="13px"
      fontWeight={on ? "680" : "500"}
      borderWidth="1px"
      borderColor={on ? "petrol" : "edge"}
      bg={on ? "petrol" : "panel"}
      color={on ? "onPetrol" : "ink"}
      aria-pressed={on}
      {...rest}
    />
  );
}
