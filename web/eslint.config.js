import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
    { ignores: ["src/api/types.ts", "dist-units"] },
    js.configs.recommended,
    ...tseslint.configs.strict,
    {
        files: ["src/**/*.{ts,tsx}"],
        plugins: { "react-hooks": hooks },
        rules: { ...hooks.configs.recommended.rules, "@typescript-eslint/no-non-null-assertion": "off" },
    },
    // What two features need is in features/run (what lives in a run) or in ui: none takes from another.
    ...["sortie", "start", "relight", "debrief", "logbook", "login", "style", "run"].map((feature) => ({
        files: [`src/features/${feature}/**`],
        rules: {
            "no-restricted-imports": [
                "error",
                { patterns: [{ regex: feature === "run" ? "^\\.\\./[a-z]" : "^\\.\\./(?!run/)[a-z]", message: "a feature takes nothing from another: move it to ui" }] },
            ],
        },
    })),
    { files: ["src/ui/**", "src/api/**"], rules: { "no-restricted-imports": ["error", { patterns: [{ regex: "features/", message: "what is shared knows no feature" }] }] } },
);
