import { useRef, type ComponentProps } from "react";
import { useTooltipTriggerState } from "react-stately/useTooltipTriggerState";
import { Button } from "./controls";
import { later } from "./later";
import { still } from "./still";

const SignTip = later(() => import("./SignTip").then((m) => m.SignTip));

/**
 * A button that shows a sign instead of words. What it says is its name, and stands beside it while the pointer rests on it or
 * the keys have come to it; pressing it, leaving it and Escape take that away.
 */
export const SignButton = still(function SignButton({ says, ...button }: Omit<ComponentProps<typeof Button>, "aria-label" | "ref"> & { says: string }) {
  const tip = useTooltipTriggerState({ delay: 600, closeDelay: 120 });
  const own = useRef<HTMLButtonElement>(null);
  return (
    <>
      <Button
        $kind="quiet"
        {...button}
        ref={own}
        aria-label={says}
        onHoverStart={() => tip.open()}
        onHoverEnd={() => tip.close()}
        onFocus={() => { if (own.current?.matches(":focus-visible")) tip.open(true); }}
        onBlur={() => tip.close(true)}
        onPressStart={() => tip.close(true)}
        onKeyDown={(e) => {
          if (e.key === "Escape" && tip.isOpen) tip.close(true);
          else e.continuePropagation();
        }}
      />
      {tip.isOpen && <SignTip says={says} sign={own} tip={tip} />}
    </>
  );
});
