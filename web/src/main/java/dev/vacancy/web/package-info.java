/** Deletion over HTTP: how does a browser or a program ask for it, and agree? */
package dev.vacancy.web;
