import { defineConfigWithVueTs, vueTsConfigs } from "@vue/eslint-config-typescript";
import vue from "eslint-plugin-vue";

export default defineConfigWithVueTs(
  { ignores: ["dist/", "node_modules/", "src/api/schema.ts"] },
  vue.configs["flat/recommended"],
  vueTsConfigs.recommended,
  {
    rules: {
      // line breaks are the formatter's business
      "vue/max-attributes-per-line": "off",
      "vue/singleline-html-element-content-newline": "off",
      "vue/html-self-closing": ["warn", { html: { void: "always" } }],
      "vue/html-indent": "off",
      "vue/html-closing-bracket-newline": "off",
      "vue/multiline-html-element-content-newline": "off",
      "vue/no-ref-as-operand": "error",
      "vue/no-v-html": "error",
    },
  },
);
