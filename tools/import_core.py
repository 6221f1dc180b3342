"""Import every module but those of the window: in an environment without Qt this shows that the core needs none.

What the modules do is tested once, with everything else; the command line's tests run here too.
"""

import importlib
import pkgutil

import ragwort

names = [module.name for module in pkgutil.walk_packages(ragwort.__path__, "ragwort.") if ".app" not in module.name]
for name in names:
    if not name.endswith("__main__"):
        importlib.import_module(name)
print(f"{len(names)} modules of the core can be imported")
