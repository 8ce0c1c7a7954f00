/** Larkmoor Beekeepers' Co-operative on the web: how does an application ask people before it deletes? */
package dev.vacancy.examples.web;
