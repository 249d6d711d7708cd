/** What all operations of the API have in common: refusals, pages, the document of the API. */
package dev.purser.service.api.answer;
