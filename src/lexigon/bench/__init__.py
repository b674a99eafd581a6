"""The Django application: models, services, views, templates and scripts. All rules live in ``lexigon.core``."""
