import { cva, type VariantProps } from "class-variance-authority";
import type { ButtonHTMLAttributes } from "react";

/** How every button looks; links that act like one wear it as well. */
export const buttonLook = cva("inline-block rounded text-center transition-colors duration-(--quick) disabled:opacity-45", {
  variants: {
    look: {
      primary: "border border-transparent bg-heather text-on-heather font-bold enabled:hover:brightness-110",
      plain: "border border-line bg-raised text-bone hover:bg-high",
      quiet: "border border-transparent text-pale hover:bg-raised hover:text-bone",
    },
    size: { small: "px-2 py-1 text-xs", normal: "px-3 py-1.5 text-sm", large: "px-5 py-2.5 text-base" },
  },
  defaultVariants: { look: "plain", size: "normal" },
});

type Props = ButtonHTMLAttributes<HTMLButtonElement> & VariantProps<typeof buttonLook>;

export function Button({ look, size, className, type = "button", ...rest }: Props) {
  return <button type={type} className={buttonLook({ look, size, className })} {...rest} />;
}
