/** What is set once: how this screen reads, and what holds for every new job of the workshop. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useTheme } from "next-themes";

import { sessionQuery } from "../../api/queries";
import { usePutHeader } from "../../app/header";
import { type AngleUnit, Choice, Part, PRESSURE_UNITS, setPreference, usePreferences } from "../../ui";
import { JobDefaultsForm } from "./JobDefaultsForm";
import { NameOnPages } from "./NameOnPages";

const ANGLES: readonly { value: AngleUnit; text: string }[] = [
  { value: "degrees", text: "Degrees" },
  { value: "forwards", text: "Teeth after gap" },
  { value: "backwards", text: "Teeth before gap" },
];

export function SettingsPage() {
  const session = useQuery(sessionQuery);
  usePutHeader(null, "settings", "Settings");
  return (
    <Box as="main" h="full" overflowY="auto" px={{ base: "4", lg: "10" }} py="6">
      <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" mb="4" data-testid="headline">
        Settings
      </Text>
      <Part title="On this screen">
        <OnThisScreen />
      </Part>
      {session.data?.role === "lead" && (
        <>
          <Part title="On every page that is printed">
            <NameOnPages />
          </Part>
          <Part title="Every new job begins with">
            <JobDefaultsForm />
          </Part>
        </>
      )}
    </Box>
  );
}

function OnThisScreen() {
  const { pressure, angle, letterKeys } = usePreferences();
  const { theme, setTheme } = useTheme();
  return (
    <Flex direction="column" gap="3">
      <Choice label="Pressures in" options={PRESSURE_UNITS} value={pressure} onPick={(unit) => setPreference("pressure", unit)} />
      <Choice label="Phase reads first in" options={ANGLES} value={angle} onPick={(unit) => setPreference("angle", unit)} />
      <Choice
        label="Light"
        options={[
          { value: "light", text: "Daylight" },
          { value: "dark", text: "Under-bonnet" },
          { value: "system", text: "As the device is set" },
        ]}
        value={theme ?? "light"}
        onPick={setTheme}
      />
      <Choice
        label="Keys of one letter or digit"
        options={[
          { value: "on", text: "On" },
          { value: "off", text: "Off" },
        ]}
        value={letterKeys ? "on" : "off"}
        onPick={(picked) => setPreference("letterKeys", picked === "on")}
      />
      <Text fontSize="13px" color="mute" maxW="720px">
        Switch the keys off where a voice program or a glove sets them off by accident. Tab, arrows, Enter and Escape always work. Captures, documents and
        texts stay in bar and degrees.
      </Text>
    </Flex>
  );
}
