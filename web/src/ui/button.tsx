import type { ButtonHTMLAttributes } from "react";

const looks = {
  primary: "bg-heather text-on-heather font-bold hover:brightness-110",
  plain: "bg-raised text-bone border border-line hover:bg-high",
  quiet: "text-pale hover:text-bone hover:bg-raised",
};

const sizes = { small: "px-2 py-1 text-xs", normal: "px-3 py-1.5 text-sm", large: "px-5 py-2.5 text-base" };

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  look?: keyof typeof looks;
  size?: keyof typeof sizes;
}

export function Button({ look = "plain", size = "normal", className = "", type = "button", ...rest }: Props) {
  return <button type={type} className={`rounded transition-colors duration-(--quick) disabled:opacity-45 ${looks[look]} ${sizes[size]} ${className}`} {...rest} />;
}
