package dev.purser.client;

import java.lang.reflect.Constructor;
import java.lang.reflect.InvocationTargetException;
import tools.jackson.core.Version;
import tools.jackson.databind.BeanDescription;
import tools.jackson.databind.DeserializationConfig;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.JacksonModule;
import tools.jackson.databind.deser.ValueInstantiator;
import tools.jackson.databind.deser.ValueInstantiators;
import tools.jackson.databind.deser.std.StdValueInstantiator;

/**
 * Records are made by calling their constructors. The library does it by method handles, for which
 * Java makes classes of its own at each start: they take longer than reading the answer itself. For
 * programs that read one answer and end.
 */
final class PlainRecords extends JacksonModule {
  @Override
  public String getModuleName() {
    return "plain records";
  }

  @Override
  public Version version() {
    return Version.unknownVersion();
  }

  @Override
  public void setupModule(SetupContext context) {
    context.addValueInstantiators(
        new ValueInstantiators.Base() {
          @Override
          public ValueInstantiator modifyValueInstantiator(
              DeserializationConfig config,
              BeanDescription.Supplier type,
              ValueInstantiator usual) {
            return type.getBeanClass().isRecord() && usual instanceof StdValueInstantiator known
                ? new OfRecord(known)
                : usual;
          }
        });
  }

  /** Makes one kind of record. */
  private static final class OfRecord extends StdValueInstantiator {
    OfRecord(StdValueInstantiator usual) {
      super(usual);
    }

    @Override
    public Object createFromObjectWith(DeserializationContext context, Object[] values) {
      Constructor<?> constructor = (Constructor<?>) getWithArgsCreator().getAnnotated();
      try {
        return constructor.newInstance(values);
      } catch (InvocationTargetException e) {
        return context.handleInstantiationProblem(getValueClass(), values, e.getCause());
      } catch (ReflectiveOperationException e) {
        return context.handleInstantiationProblem(getValueClass(), values, e);
      }
    }
  }
}
