import { useState, type ImgHTMLAttributes } from "react";

/** How long until a picture that did not come is asked for again, in milliseconds. */
const again = 2500;

/** A small picture of a picture. While the server is away there is none, and it is asked for until it comes. */
export function CoverImage(p: ImgHTMLAttributes<HTMLImageElement> & { src: string }) {
  const [tries, setTries] = useState(0);
  const [failed, setFailed] = useState<string>();
  return (
    <img
      {...p}
      key={tries}
      alt=""
      loading="lazy"
      style={{ ...p.style, ...(failed === p.src ? { visibility: "hidden" } : {}) }}
      onLoad={() => setFailed(undefined)}
      onError={() => {
        setFailed(p.src);
        setTimeout(() => setTries((n) => n + 1), again);
      }}
    />
  );
}
