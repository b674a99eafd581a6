"""The demo's world: the Saltmarsh Observatory on the invented coast of Merrowick. All of it is made up."""
