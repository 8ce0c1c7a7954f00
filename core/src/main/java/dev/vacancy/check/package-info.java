/** What is wrong or risky in schema and rules? The findings of a check. */
package dev.vacancy.check;
