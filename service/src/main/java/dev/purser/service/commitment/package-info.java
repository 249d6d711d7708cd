/** What is promised to the business: how it stands, who is warned, and what was foretold of it. */
package dev.purser.service.commitment;
