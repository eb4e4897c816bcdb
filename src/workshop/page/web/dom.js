"use strict";
// Elements, made without any HTML text, so that no name of a project can become markup.

function make(tag, attributes = {}, ...children) {
  return furnish(document.createElement(tag), attributes, children);
}

function drawn(tag, attributes = {}, ...children) {
  return furnish(document.createElementNS("http://www.w3.org/2000/svg", tag), attributes, children);
}

function furnish(element, attributes, children) {
  for (const [name, value] of Object.entries(attributes)) {
    if (typeof value === "function") element.addEventListener(name, value);
    else if (value === true) element.setAttribute(name, "");
    else if (value !== false && value !== undefined) element.setAttribute(name, value);
  }
  element.append(...children);
  return element;
}

function at(id) {
  return document.getElementById(id);
}

const colours = getComputedStyle(document.documentElement);

/// Returns a colour of page.css: `ink`, `soft`, `line` …
function colour(name) {
  return colours.getPropertyValue(`--${name}`).trim();
}

/// Shows the rows of a table: columns are [title, is a number].
function table(columns, rows) {
  const head = columns.map(([title, number]) => make("th", {scope: "col", class: number ? "number" : ""}, title));
  return make("table", {}, make("thead", {}, make("tr", {}, ...head)), make("tbody", {}, ...rows));
}

function cell(content, number = false) {
  return make("td", {class: number ? "number" : ""}, content === undefined || content === null ? "" : content);
}

function counted(number, noun) {
  return `${number} ${noun}${number === 1 ? "" : "s"}`;
}

/// Marks an element for a moment.
function light(element) {
  if (!element) return;
  element.classList.add("lit");
  clearTimeout(element.lit);
  element.lit = setTimeout(() => element.classList.remove("lit"), 350);
}

function decibels(peak) {
  return peak > 0.00002 ? (20 * Math.log10(peak)).toFixed(1) : "−∞";
}
