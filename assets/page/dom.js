// Figures are worked on the server; nothing here computes one.
export const $ = (selector, root = document) => root.querySelector(selector);
export const $$ = (selector, root = document) => [...root.querySelectorAll(selector)];
export const page = $(".build");
