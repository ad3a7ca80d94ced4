"""The build document: its models and the steps from earlier versions."""
