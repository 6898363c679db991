"""What the garage's rows tell to whoever keeps a record of it; the garage knows no listeners itself."""

from django.dispatch import Signal

#: wheels were put on a car without a job sheet: ``car``, ``name`` of what stands now
wheels_put_on = Signal()
