/** What has the application asked for? Rules and criteria as they were given, before any catalog is known. */
package dev.vacancy.internal.request;
