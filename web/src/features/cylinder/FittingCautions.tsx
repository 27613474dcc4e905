/** What to mind while an adapter is fitted and taken out. */
import { Box, Text } from "@chakra-ui/react";

const LINES = [
  "Let the engine cool, turn the ignition off. Unplug the injector of that cylinder and put its coil on an earthed spark gap.",
  "Blow the plug well clean, screw the adapter in by hand, take the hose's check valve out, zero the transducer in open air.",
  "Open the throttle, keep clear of belts and fans, crank in bursts of ten seconds or less.",
  "Is the body of the transducer under 90 °C, and its battery fresh? Hot or weak it drifts, which the trace does not always show.",
  "Let the pressure off before the adapter comes out.",
  "Diesels only with the maker's adapter and procedure. Local rules and licensed practice go first.",
];

export function FittingCautions({ folded = false }: { folded?: boolean }) {
  const list = (
    <Box as="ul" mt="1" pl="4" listStyleType="disc">
      {LINES.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </Box>
  );
  if (!folded)
    return (
      <Box mt="3" borderLeftWidth="3px" borderColor="late" pl="3" fontSize="13.5px">
        <Text fontWeight="650">Fitting the adapter</Text>
        {list}
      </Box>
    );
  return (
    <Box as="details" mt="4" fontSize="13.5px" maxW="720px">
      <Box as="summary" cursor="pointer" minH="32px">
        Fitting and taking out the adapter: what to mind
      </Box>
      {list}
    </Box>
  );
}
