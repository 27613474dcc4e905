/** A file dropped anywhere on the page goes to the job that is open, a photo to its station; the browser never opens it in the page's place. */
import { Flex, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useLocation, useNavigate } from "react-router";

import { QuietButton } from "../ui";
import { dropFiles } from "./dropped";

export function FileDrop() {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const [over, setOver] = useState(false);
  const [astray, setAstray] = useState(false);
  const job = /^\/jobs\/(\d+)\b/.exec(pathname)?.[1];
  useEffect(() => {
    const drag = (event: DragEvent) => {
      if (!event.dataTransfer?.types.includes("Files")) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (event.relatedTarget === null) setOver(false);
    };
    const drop = (event: DragEvent) => {
      setOver(false);
      event.preventDefault();
      const files = [...(event.dataTransfer?.files ?? [])];
      if (!files.length) return;
      setAstray(job === undefined);
      if (job === undefined) return;
      const photos = files.filter((file) => file.type.startsWith("image/"));
      const captures = files.filter((file) => !photos.includes(file));
      dropFiles("photos", Number(job), photos);
      dropFiles("captures", Number(job), captures);
      if (captures.length) void navigate(`/jobs/${job}/captures`);
    };
    window.addEventListener("dragover", drag);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", drag);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  }, [job, navigate]);
  if (!over && !astray) return null;
  return (
    <Flex
      role="status"
      data-testid="file-drop"
      position="fixed"
      left="50%"
      bottom="24px"
      transform="translateX(-50%)"
      zIndex="toast"
      align="center"
      gap="3"
      bg="panel"
      borderWidth="2px"
      borderStyle={over ? "dashed" : "solid"}
      borderColor="petrol"
      rounded="md"
      px="5"
      py="3"
      maxW="90vw"
      pointerEvents={over ? "none" : "auto"}
    >
      <Text fontWeight="650">
        {job === undefined ? "A capture belongs to a job: open the job first, then drop the file." : "Let go to add it to this job"}
      </Text>
      {astray && !over && <QuietButton onClick={() => setAstray(false)}>Close</QuietButton>}
    </Flex>
  );
}
