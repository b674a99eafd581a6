// What the checker of scripts is told of the browser beyond its own library: which element a selector finds is ours to know.
interface ParentNode {
  querySelector(selectors: string): any;
  querySelectorAll(selectors: string): NodeListOf<any>;
}
interface Document {
  getElementById(id: string): any;
  readonly activeElement: any;
}
interface Element {
  closest(selectors: string): any;
  readonly children: HTMLCollectionOf<any>;
}
interface HTMLElement {
  querySelector(selectors: string): any;
}
interface EventTarget {
  [name: string]: any;
}
interface Window {
  Alpine: any;
}
