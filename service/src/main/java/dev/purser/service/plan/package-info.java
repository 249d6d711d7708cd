/**
 * Keeps the plan of today and tomorrow made, ahead of time and when definitions change. The core's
 * planner says which runs are due.
 */
package dev.purser.service.plan;
