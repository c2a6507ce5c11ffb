import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/api/schema.ts"] },
  ...tseslint.configs.recommendedTypeChecked,
  a11y.flatConfigs.recommended,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    plugins: { "react-hooks": hooks },
    rules: {
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "warn",
      // Labels stand around our own controls, which render buttons.
      "jsx-a11y/label-has-associated-control": [
        "error",
        { controlComponents: ["Select", "Combobox", "Checkbox", "Switch", "Slider", "RadioGroup"], assert: "either", depth: 4 },
      ],
      // What scrolls can be scrolled by keys; pictures that are turned and read by keys are applications.
      "jsx-a11y/no-noninteractive-tabindex": [
        "error",
        { tags: ["pre", "ul", "div", "section"], roles: ["application", "tabpanel", "region"], allowExpressionValues: true },
      ],
      // A field that opens because somebody has just asked for it takes what they type.
      "jsx-a11y/no-autofocus": "off",
    },
  },
  {
    // No native control where a primitive of web/src/ui stands; its tests say why.
    files: ["src/**/*.tsx"],
    rules: {
      "no-restricted-syntax": [
        "error",
        { selector: "JSXOpeningElement[name.name=/^(select|details|progress|meter)$/]", message: "Use the primitive in web/src/ui." },
        {
          selector: "JSXOpeningElement[name.name='input'] > JSXAttribute[name.name='type'][value.value=/^(checkbox|radio|range)$/]",
          message: "Use Checkbox, RadioGroup or Slider of web/src/ui.",
        },
        { selector: "JSXOpeningElement[name.name=/^[a-z]/] > JSXAttribute[name.name='title']", message: "Use Tip of web/src/ui." },
      ],
    },
  },
  { files: ["src/**/*.test.{ts,tsx}", "src/testing/**"], rules: { "@typescript-eslint/unbound-method": "off" } },
);
