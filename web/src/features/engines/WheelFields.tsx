import { Box } from "@chakra-ui/react";

import { QuietButton, Select } from "../../ui";
import { camName } from "./cams";
import { listAt, textAt } from "./draft";
import { NumbersAt, PickAt, TextAt, useForm } from "./fields";
import { Section } from "./Section";
import { EDGES, SENSORS } from "./words";

/** Further signal wheels, on the crank or on a cam. */
export function WheelFields() {
  const { draft, put } = useForm();
  const wheels = listAt(draft, ["aux_wheels"]);
  const cams = listAt(draft, ["cams"]).map((_, i) => camName(draft, i));
  return (
    <>
      {wheels.map((_, i) => {
        const id = textAt(draft, ["aux_wheels", i, "id"]);
        return (
          <Section
            key={i}
            title={`Further wheel ${id}`}
            action={
              <QuietButton h="26px" aria-label={`Take out wheel ${id}`} onClick={() => put(["aux_wheels", i], undefined)}>
                Take out
              </QuietButton>
            }
          >
            <TextAt label="Name" path={["aux_wheels", i, "id"]} width={70} />
            <Select
              label="Turns with"
              value={textAt(draft, ["aux_wheels", i, "turns_with"])}
              options={["crank", ...cams].map((name) => ({ value: name, text: name }))}
              onPick={(name) => put(["aux_wheels", i, "turns_with"], name)}
            />
            <PickAt label="Sensor" path={["aux_wheels", i, "sensor"]} options={SENSORS} />
            <PickAt label="Accurate edge" path={["aux_wheels", i, "timing_edge"]} options={EDGES} />
            <NumbersAt label="Accurate edges" path={["aux_wheels", i, "teeth_deg"]} width={300} after="° after TDC 1" />
          </Section>
        );
      })}
      <Box borderTopWidth="1px" borderColor="line" py="3">
        <QuietButton
          onClick={() =>
            put(["aux_wheels", wheels.length], {
              id: `A${String(wheels.length + 1)}`,
              turns_with: "crank",
              sensor: "hall",
              timing_edge: "falling",
              teeth_deg: [0],
            })
          }
        >
          Add a further wheel
        </QuietButton>
      </Box>
    </>
  );
}
