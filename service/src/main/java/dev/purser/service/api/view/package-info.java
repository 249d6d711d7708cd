/** How what is known is shown by the API. */
package dev.purser.service.api.view;
