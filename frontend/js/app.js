// Starts Alpine with every component and with our two words for templates.
import Alpine from "@alpinejs/csp";
import * as components from "./components.js";
import { submits, works } from "./frame/directives.js";

for (const [name, component] of Object.entries(components)) Alpine.data(name, component);
Alpine.directive("submits", submits);
Alpine.directive("works", works);
Alpine.start();
