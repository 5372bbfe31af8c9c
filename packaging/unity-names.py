#!/usr/bin/env python3
"""Names of functions and types in anonymous namespaces must differ between the sources that may be compiled as one (unity builds):
two constants of one name do not compile, but two functions of one name would silently become overloads of each other."""
import collections, glob, re, sys

FUNCTION = re.compile(r"^(?!return|else|using|namespace|template|#|//|\s|\}|HSEAM|class |struct |enum |union )[\w:<>,&*\s\[\]]*?\b(\w+)\((?!.*\bnew\b)")
TYPE = re.compile(r"^(?:struct|class|enum class|enum) (\w+)\b(?!;)")


def helpers(path):
    depth_open = False
    for line in open(path, encoding="utf-8"):
        if re.match(r"^namespace \{", line):
            depth_open = True
        elif re.match(r"^\}  // namespace$", line):
            depth_open = False
        elif depth_open:
            found = TYPE.match(line) or FUNCTION.match(line)
            if found:
                yield found.group(1)


def check(files):
    where = collections.defaultdict(set)
    for path in files:
        for name in helpers(path):
            where[name].add(path)
    return {n: p for n, p in where.items() if len(p) > 1}


def groups():
    for folder in sorted(glob.glob("src/core/*/")):
        yield [f for f in sorted(glob.glob(folder + "**/*.cpp", recursive=True))
               if "foreach_target" not in open(f, encoding="utf-8").read() and "/door/" not in f]
    yield sorted(glob.glob("src/core/image/door/*.cpp"))
    yield sorted(glob.glob("src/cli/*.cpp"))
    yield sorted(glob.glob("src/app/**/*.cpp", recursive=True))
    yield sorted(glob.glob("tests/app/**/*.cpp", recursive=True))
    yield sorted(set(glob.glob("tests/core/*/*.cpp")) - set(glob.glob("tests/core/faults/*.cpp"))) + sorted(glob.glob("tests/bad_input/*.cpp"))


bad = 0
for files in groups():
    for name, paths in sorted(check(files).items()):
        bad += 1
        print(f"{name}: {' '.join(sorted(paths))}")
sys.exit(1 if bad else 0)
