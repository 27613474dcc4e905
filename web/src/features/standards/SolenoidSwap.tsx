/** Swapping two solenoids, step by step: a sweep before, the swap, a sweep after, and what that proves. */
import { Box, Flex, Text } from "@chakra-ui/react";

import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { PanelTitle } from "../../ui";

type Props = { jobId: number; phasers: Schemas["PhaserResult"][]; captures: Schemas["ImportedCapture"][] };

export function SolenoidSwap({ jobId, phasers, captures }: Props) {
  const poor = phasers.find((one) => one.advice);
  if (!poor) return null;
  const sweeps = captures.filter((one) => one.phasers === "sweep").length;
  const steps: [boolean, string][] = [
    [true, `A sweep before: ${poor.text}.`],
    [false, "Key off, engine cold enough to touch. Take both solenoids out, look at their screens, and swap them with a like one; new seals, the maker's torque."],
    [sweeps > 1, "The same sweep again, on both cams, in the same state."],
    [false, "Note at Look and listen whether the fault stayed with the cam or moved with the solenoid: if it moved, it is the solenoid; if it stayed, its oil way, the phaser, or its wiring."],
  ];
  return (
    <Box maxW="760px" data-testid="solenoid-swap">
      <PanelTitle note="about fifteen minutes; the covers stay on">Swap the solenoids before anything is condemned</PanelTitle>
      {steps.map(([done, text], i) => (
        <Flex key={i} gap="2" fontSize="13.5px" mb="1">
          <Text aria-hidden="true">{done ? "●" : "○"}</Text>
          <Text>
            {text}
            <Box as="span" srOnly>
              {done ? " (done)" : " (open)"}
            </Box>
          </Text>
        </Flex>
      ))}
      <Text fontSize="13.5px">
        <Link to={`/jobs/${String(jobId)}/look`} style={{ textDecoration: "underline" }}>
          Note the swap at Look and listen
        </Link>
      </Text>
      <Text fontSize="13px" color="mute" mt="1">
        No drive without a fuse. Leads and clothing clear of belts and fans; the engine runs. Follow the maker's procedure and the local rules.
      </Text>
    </Box>
  );
}
