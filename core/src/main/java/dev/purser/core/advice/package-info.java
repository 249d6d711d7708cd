/** Why a promise is likely to be kept late, and what would help. */
package dev.purser.core.advice;
