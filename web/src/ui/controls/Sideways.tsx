/** What may be wider than the screen is pushed sideways, by a finger or with the arrow keys once it has the focus. */
import { Box, type BoxProps } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";

export function Sideways({ label, ...rest }: BoxProps & { label: string }) {
  const box = useRef<HTMLDivElement>(null);
  const [wider, setWider] = useState(false);
  useEffect(() => {
    const measure = () => {
      const own = box.current;
      if (own) setWider(own.scrollWidth > own.clientWidth + 1);
    };
    const watch = new ResizeObserver(measure);
    if (box.current) watch.observe(box.current);
    if (box.current?.firstElementChild) watch.observe(box.current.firstElementChild);
    return () => {
      watch.disconnect();
    };
  }, []);
  // It only stops the Tab key where there is something to push.
  return <Box ref={box} overflowX="auto" {...(wider ? { tabIndex: 0, role: "region", "aria-label": label } : {})} {...rest} />;
}
