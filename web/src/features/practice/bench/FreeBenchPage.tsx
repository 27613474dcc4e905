/** The free bench: turn at any fault and see what every lead shows of it; then practise on it, or give it to a class. */
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";

import { client, taken } from "../../../api/client";
import { usePutHeader } from "../../../app/header";
import { ActionButton, Choice, EmptyNote, ErrorNote, PanelTitle, QuietButton, Select, useKeys, Waiting } from "../../../ui";
import { useLearner } from "../learner";
import { benchQuery } from "../queries";
import { CarSelects, NuisanceControls, SizeControls } from "./BenchControls";
import { type BenchEngine, type ByHand, onEngine, sound } from "./by-hand";
import { CyclePlot } from "./CyclePlot";
import { useMovingPicture } from "./moving";
import { Readings } from "./Readings";

type Turning = "cranking" | "idle";

export function FreeBenchPage() {
  const engines = useQuery(benchQuery);
  usePutHeader(<Text fontWeight="650">Free bench</Text>, "free bench", "Free bench");
  const navigate = useNavigate();
  useKeys({ Escape: () => void navigate("/") });
  if (engines.isPending)
    return (
      <Box p="8">
        <Waiting>Reading what can be turned</Waiting>
      </Box>
    );
  if (engines.isError)
    return (
      <Box p="8">
        <ErrorNote error={engines.error} onRetry={() => void engines.refetch()} />
      </Box>
    );
  const first = engines.data[0];
  return first ? <Bench engines={engines.data} first={first} /> : <EmptyNote title="The pool has no engine">Nothing can be turned.</EmptyNote>;
}

function Bench({ engines, first }: { engines: BenchEngine[]; first: BenchEngine }) {
  const [car, setCar] = useState<ByHand>(() => onEngine(first, "chain_jumped", 1));
  const [turning, setTurning] = useState<Turning>("cranking");
  const [asked, setAsked] = useState<number | null>(null);
  const engine = engines.find((one) => one.id === car.engine) ?? first;
  const cylinder = asked !== null && engine.cylinders.includes(asked) ? asked : null;
  const shown = useMovingPicture({ car, turning, cylinder });
  const behind = useMovingPicture({ car: sound(car), turning, cylinder: cylinder ?? car.sized.cylinder ?? null });
  return (
    <Grid as="main" h="full" overflowY="auto" templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 340px" }}>
      <Box px={{ base: "3", md: "5" }} py="4" minW="0">
        <Text as="h1" fontSize="30px" fontWeight="720" lineHeight="1.15" data-testid="headline">
          Free bench
        </Text>
        <Text color="mute" mb="2">
          Turn at a fault and see what it does to every lead. The angle is that of the crank itself, as no scope has it; grey is the same engine
          without the fault.
        </Text>
        <Flex gap="4" wrap="wrap" align="end" mb="2">
          <CarSelects engines={engines} engine={engine} car={car} onCar={setCar} />
          {turning === "cranking" && (
            <Select
              label="Pressure of"
              value={cylinder === null ? "" : String(cylinder)}
              options={[{ value: "", text: "the cylinder with the fault" }, ...engine.cylinders.map((one) => ({ value: String(one), text: `cylinder ${String(one)}` }))]}
              onPick={(one) => setAsked(one === "" ? null : Number(one))}
            />
          )}
          <Choice
            label="It is"
            value={turning}
            options={[
              { value: "cranking", text: "cranking, pedal down" },
              { value: "idle", text: "at idle" },
            ]}
            onPick={setTurning}
          />
        </Flex>
        <SizeControls engine={engine} car={car} onCar={setCar} />
        {shown.error && <ErrorNote error={shown.error} />}
        {shown.picture === null && !shown.error && <Waiting>Turning the engine</Waiting>}
        {shown.picture && (
          <Drawn askedAt={shown.askedAt}>
            {shown.picture.words && (
              <Text fontWeight="650" role="status">
                {shown.picture.words}
              </Text>
            )}
            {shown.picture.turns && (
              <>
                <CyclePlot picture={shown.picture} behind={behind.picture?.turns ? behind.picture : null} toothDeg={engine.tooth_deg} />
                <Readings picture={shown.picture} behind={behind.picture} engine={engine} />
              </>
            )}
          </Drawn>
        )}
      </Box>
      <Box as="aside" aria-label="What lies over it" bg="panel" borderLeftWidth={{ base: "0", lg: "1px" }} borderColor="line" px="4" py="4">
        <NuisanceControls engine={engine} car={car} onCar={setCar} />
        <Made car={car} />
      </Box>
    </Grid>
  );
}

/** Tells how long it took from the hand's last movement to the picture, for whoever measures it. */
function Drawn({ askedAt, children }: { askedAt: number; children: React.ReactNode }) {
  const [ms, setMs] = useState(0);
  useEffect(() => {
    // What waits behind a frame's own work runs as soon as that frame is painted.
    const frame = requestAnimationFrame(() => setTimeout(() => setMs(performance.now() - askedAt)));
    return () => cancelAnimationFrame(frame);
  }, [askedAt]);
  return (
    <Box data-testid="drawn" data-asked={askedAt} data-redraw-ms={ms.toFixed(0)}>
      {children}
    </Box>
  );
}

/** The car as it stands, made into a job for oneself or for everybody of the class. */
function Made({ car }: { car: ByHand }) {
  const { person, className } = useLearner();
  const navigate = useNavigate();
  const take = useMutation({
    mutationFn: () => taken(client.POST("/api/practice/bench/jobs", { body: { car, person } })),
    onSuccess: (attempt) => navigate(`/jobs/${String(attempt.job_id)}/complaint`),
  });
  const give = useMutation({
    mutationFn: () => taken(client.POST("/api/practice/bench/cars", { body: { car, person, class_name: className } })),
  });
  const { reset } = give;
  useEffect(() => reset(), [car, reset]);
  return (
    <Box mt="5" pt="3" borderTopWidth="1px" borderColor="line">
      <PanelTitle>Make it a car</PanelTitle>
      {person === "" ? (
        <Text fontSize="13px">Say on the practice page who you are and which class, then a car can be made of it.</Text>
      ) : (
        <Flex direction="column" gap="2" align="start">
          <ActionButton loading={take.isPending} onClick={() => take.mutate()}>
            Practise on it
          </ActionButton>
          <Text fontSize="13px" color="mute">
            You know what it is, so its points stay out of your curve.
          </Text>
          {className !== "" && (
            <>
              <QuietButton h="40px" fontSize="15px" loading={give.isPending} onClick={() => give.mutate()}>
                {`Give it to ${className}`}
              </QuietButton>
              <Text fontSize="13px" color="mute" role="status" data-testid="given">
                {give.data ? `It is car ${String(give.data.number)} of ${give.data.class_name} now.` : "It becomes the next car of the class that nobody has begun at."}
              </Text>
            </>
          )}
        </Flex>
      )}
      {take.isError && <ErrorNote error={take.error} onClose={() => take.reset()} />}
      {give.isError && <ErrorNote error={give.error} onClose={() => give.reset()} />}
    </Box>
  );
}
