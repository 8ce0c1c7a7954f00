/** What would happen? Works out everything that a deletion would touch, and changes nothing. */
package dev.vacancy.plan;
