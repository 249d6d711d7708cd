/**
 * The output of attempts, in compressed pieces beside the records. It is written as it comes and
 * leaves by age.
 */
package dev.purser.service.output;
