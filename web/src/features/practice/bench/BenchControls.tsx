/** What can be turned: engine, fault, its place and its size; and apart from it what lies over it. */
import { Box, Flex, Text } from "@chakra-ui/react";

import { Choice, OnOff, PanelTitle, QuietButton, Select } from "../../../ui";
import { BenchSlider } from "./BenchSlider";
import { type BenchEngine, type BenchFault, type ByHand, calm, faultOf, type Nuisances, onEngine, type Sized, sliderOf, toggled, usual } from "./by-hand";

type Props = { engines: BenchEngine[]; engine: BenchEngine; car: ByHand; onCar: (car: ByHand) => void };

/** Which engine, and what is wrong with it. */
export function CarSelects({ engines, engine, car, onCar }: Props) {
  const fault = faultOf(engine, car.fault);
  return (
    <>
      <Select
        label="Engine"
        value={engine.id}
        options={engines.map((one) => ({ value: one.id, text: one.name }))}
        onPick={(id) => {
          const picked = engines.find((one) => one.id === id);
          if (picked) onCar(onEngine(picked, fault.fault, car.seed));
        }}
      />
      <Select
        label="What is wrong"
        value={fault.fault}
        options={engine.faults.map((one) => ({ value: one.fault, text: one.title }))}
        onPick={(name) => {
          const picked = faultOf(engine, name);
          onCar({ ...car, fault: picked.fault, sized: usual(picked) });
        }}
      />
    </>
  );
}

/** How much, and where. The size stays in view while one scrolls along the picture on a small screen. */
export function SizeControls({ engine, car, onCar }: Omit<Props, "engines">) {
  const fault = faultOf(engine, car.fault);
  const slider = sliderOf(fault, car.sized.leak);
  const turn = (change: Partial<Sized>) => onCar({ ...car, sized: { ...car.sized, ...change } });
  return (
    <>
      {slider && (
        <Box position={{ base: "sticky", lg: "static" }} top="0" zIndex="1" bg="paper" maxW={{ lg: "620px" }} pt="1">
          <BenchSlider slider={slider} value={car.sized.size} onChange={(size) => turn({ size })} testid="size" />
        </Box>
      )}
      <Flex gap="2" columnGap="5" mt="1" mb="3" wrap="wrap">
        <Place engine={engine} fault={fault} sized={car.sized} onTurn={turn} />
      </Flex>
    </>
  );
}

/** What lies over every fault, and the car that the rest is drawn for. */
export function NuisanceControls({ engine, car, onCar }: Omit<Props, "engines">) {
  return (
    <Flex direction="column" gap="2">
      <Flex align="baseline" justify="space-between" gap="2">
        <PanelTitle>What lies over it</PanelTitle>
        <QuietButton onClick={() => onCar({ ...car, nuisances: calm(engine) })}>As usual</QuietButton>
      </Flex>
      {engine.nuisances.map((one) => (
        <BenchSlider
          key={one.id}
          slider={one.slider}
          value={car.nuisances[one.id as keyof Nuisances]}
          onChange={(value) => onCar({ ...car, nuisances: { ...car.nuisances, [one.id]: value } })}
          testid={`nuisance-${one.id}`}
        />
      ))}
      <Flex gap="2" align="center" wrap="wrap" mt="1">
        <Text fontSize="13px" color="mute" flex="1" minW="0">
          Teeth, cams and cylinders are drawn anew for another car of this kind
        </Text>
        <QuietButton onClick={() => onCar({ ...car, seed: (car.seed % 9999) + 1 })}>Another car</QuietButton>
      </Flex>
    </Flex>
  );
}

const PRESENT = { always: "always", cold: "cold", hot: "hot", cranking: "cranking", running: "running", not_today: "not today" } as const;
const SPOILT = { lost: "no signal", erratic: "drops out", extra: "pulses added" } as const;

type PlaceProps = { engine: BenchEngine; fault: BenchFault; sized: Sized; onTurn: (change: Partial<Sized>) => void };

/** Where it is, of which kind, and when it shows. */
function Place({ engine, fault, sized, onTurn }: PlaceProps) {
  const cams = sized.cams;
  const title = (id: string) => engine.cams.find((one) => one.id === id)?.title ?? id;
  return (
    <>
      {fault.ways.length > 1 && (
        <Choice
          label="Leaks at"
          value={sized.leak}
          options={fault.ways.map((way) => ({ value: way.leak ?? "rings", text: way.title }))}
          onPick={(leak) => onTurn({ leak: leak as Sized["leak"], size: sliderOf(fault, leak)?.usual ?? 0 })}
        />
      )}
      {(fault.cams.length > 1 || (fault.crank && fault.cams.length > 0)) && (
        <Flex role="group" aria-label={fault.many ? "Cams that moved" : "Where"} align="center" gap="1.5" wrap="wrap">
          <Text fontSize="13px" color="mute" mr="0.5">
            {fault.many ? "Cams that moved" : "Where"}
          </Text>
            {fault.crank && (
              <OnOff on={cams.length === 0} onClick={() => onTurn({ cams: [] })}>
                Crank sensor
              </OnOff>
            )}
            {fault.cams.map((cam) => (
              <OnOff key={cam} on={cams.includes(cam)} onClick={() => onTurn({ cams: fault.many ? toggled(cams, cam) : [cam] })}>
                {title(cam)}
              </OnOff>
            ))}
        </Flex>
      )}
      {fault.cylinders.length > 1 && (
        <Choice
          label="Cylinder"
          value={String(sized.cylinder ?? "")}
          options={fault.cylinders.map((one) => ({ value: String(one), text: String(one) }))}
          onPick={(one) => onTurn({ cylinder: Number(one) })}
        />
      )}
      {fault.signals.length > 1 && (
        <Choice
          label="The signal"
          value={sized.signal}
          options={fault.signals.map((one) => ({ value: one, text: SPOILT[one as keyof typeof SPOILT] }))}
          onPick={(one) => onTurn({ signal: one as Sized["signal"] })}
        />
      )}
      {fault.presents.length > 1 && (
        <Choice
          label="It shows"
          value={sized.present}
          options={fault.presents.map((one) => ({ value: one, text: PRESENT[one as keyof typeof PRESENT] }))}
          onPick={(one) => onTurn({ present: one as Sized["present"] })}
        />
      )}
    </>
  );
}
