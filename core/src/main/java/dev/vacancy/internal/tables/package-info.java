/** How are our own tables made, brought up to date, written and read? */
package dev.vacancy.internal.tables;
