/** What is wrong or risky in schema and rules? */
package dev.vacancy.check;
