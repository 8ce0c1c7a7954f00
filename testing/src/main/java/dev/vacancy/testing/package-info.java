/** What do the tests of all modules share? Tests on every engine, and what they look at. */
package dev.vacancy.testing;
