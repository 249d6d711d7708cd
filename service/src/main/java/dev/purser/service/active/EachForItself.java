package dev.purser.service.active;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.BeanFactory;
import org.springframework.context.ApplicationEvent;
import org.springframework.context.ApplicationListener;
import org.springframework.context.PayloadApplicationEvent;
import org.springframework.context.event.ApplicationEventMulticaster;
import org.springframework.context.event.SimpleApplicationEventMulticaster;
import org.springframework.context.support.AbstractApplicationContext;
import org.springframework.stereotype.Component;

/**
 * Tells listeners what has happened, each for itself: what one of them cannot take keeps it from no
 * other, nor from whoever told it. That goes for our own events, which tell what is on record;
 * where the program starts, a failure still ends the start.
 */
@Component(AbstractApplicationContext.APPLICATION_EVENT_MULTICASTER_BEAN_NAME)
class EachForItself extends SimpleApplicationEventMulticaster
    implements ApplicationEventMulticaster {
  private static final Logger LOG = LoggerFactory.getLogger(EachForItself.class);

  EachForItself(BeanFactory beans) {
    super(beans);
  }

  @Override
  protected void invokeListener(ApplicationListener<?> listener, ApplicationEvent event) {
    boolean ours =
        event instanceof PayloadApplicationEvent<?> told
            && told.getPayload().getClass().getName().startsWith("dev.purser.");
    if (!ours) {
      super.invokeListener(listener, event);
      return;
    }
    try {
      super.invokeListener(listener, event);
    } catch (RuntimeException e) {
      LOG.error("{} could not take what has happened", listener, e);
    }
  }
}
