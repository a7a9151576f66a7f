"""The only package that imports the geometry library.  Shapes leave it as opaque values; all lengths are mm."""

from OCP.Message import Message, Message_Printer

# The kernel narrates its work on standard output; errors reach us as results and exceptions.
Message.DefaultMessenger_s().RemovePrinters(Message_Printer.get_type_descriptor_s())
