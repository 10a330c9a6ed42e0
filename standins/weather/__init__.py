"""A weather service with an invented climate, speaking the protocol of docs/weather-service.md."""
