// What the scripts take for granted of the page: an element found by its id or a selector is the kind that the page
// has there, and what was pressed is an element. TypeScript knows neither.
interface Document {
  getElementById(id: string): any;
}
interface ParentNode {
  querySelector(css: string): any;
  querySelectorAll(css: string): NodeListOf<any>;
}
interface EventTarget {
  closest(css: string): any;
  matches(css: string): boolean;
  dataset: DOMStringMap;
  checked: boolean;
  files: FileList;
  value: string;
  id: string;
}
interface Element {
  closest(css: string): any;
}
