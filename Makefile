# The two commands that matter: `make demo` and `make test`. `make help` lists the rest.
BUILD := build/release
INSTALL := packaging/install-packages.sh
JOBS := $(shell nproc)
# Tests wait now and then, for the screen and for each other: one more than there are cores keeps all of them busy.
TESTS := $(shell expr $(JOBS) + 1)
# The compiler cache lies inside the build tree unless the user has one of their own.
export CCACHE_SLOPPINESS := pch_defines,time_macros

.PHONY: help build demo noon stage room test test-asan test-tsan bench shots format lint lint-all fuzz package try-package times packages

help:
	@echo "make demo       install what is missing, build, open the demo scene"
	@echo "make noon       the same with the second demo scene, at noon"
	@echo "make stage      frames of a toy stage, to become one picture; make room: a room lit by five lamps"
	@echo "make test       install what is missing, build, run every test"
	@echo "make build      build the application and the hseam command in $(BUILD)/bin"
	@echo "make test-asan  the tests under AddressSanitizer and UBSan"
	@echo "make bench      print the measured figures"
	@echo "make shots      draw every main view of the demo into build/shots without a display"
	@echo "make format     rewrite the sources in the project's style"
	@echo "make lint       style, and clang-tidy over what changed since it last passed; make lint-all: over everything"
	@echo "make test-tsan  the core's tests under ThreadSanitizer"
	@echo "make fuzz       fuzz every reader, FUZZ_SECONDS each (60)"
	@echo "make package    the Debian package; make try-package installs it into a bare Debian 12 and uses it there (as root)"
	@echo "make times      how long a new build, the tests and the whole check take here, without any cache"

packages:
	@$(INSTALL) build

# The programs alone: tests are built when they are asked for.
build: packages
	@cmake --preset release >/dev/null
	@cmake --build --preset release -j $(JOBS) --target hidden-seam hseam

demo: build
	@if [ -z "$$DISPLAY$$WAYLAND_DISPLAY" ]; then \
	    echo "There is no display here (DISPLAY and WAYLAND_DISPLAY are empty). 'make shots' draws the views into build/shots instead."; exit 1; fi
	@$(BUILD)/bin/hidden-seam --demo

# The second demo scene: another place, another hour.
noon: build
	@$(BUILD)/bin/hidden-seam --noon

# Frames of one place: a puppet in five places, a room lit by five lamps.
stage room: build
	@$(BUILD)/bin/hidden-seam --frames $@

# With HSEAM_PHOTOS the cut is also tried on pictures that others made, which a Python script sets together.
test: packages
	@if [ -n "$$HSEAM_PHOTOS" ]; then $(INSTALL) check; fi
	@cmake --preset release >/dev/null
	@cmake --build --preset release -j $(JOBS)
	@QT_QPA_PLATFORM=offscreen ctest --preset release --output-on-failure -j $(TESTS)

test-asan: packages
	@cmake --preset asan-ubsan >/dev/null
	@cmake --build --preset asan-ubsan -j $(JOBS)
	@QT_QPA_PLATFORM=offscreen ctest --preset asan-ubsan --output-on-failure

bench: packages
	@$(INSTALL) bench
	@cmake --preset release -DHSEAM_BENCH=ON >/dev/null
	@cmake --build --preset release -j $(JOBS)
	@bench/run.sh $(BUILD)

shots: build
	@QT_QPA_PLATFORM=offscreen $(BUILD)/bin/hidden-seam --demo --shots build/shots

format:
	@$(INSTALL) check
	@packaging/style.sh --rewrite

lint: packages
	@$(INSTALL) check
	@packaging/style.sh --check
	@packaging/tidy.sh --changed

lint-all: packages
	@$(INSTALL) check
	@packaging/style.sh --check
	@packaging/tidy.sh --all

test-tsan: packages
	@cmake --preset tsan >/dev/null
	@cmake --build --preset tsan -j $(JOBS)
	@ctest --preset tsan --output-on-failure --timeout 3600 -R 'core/|bad_input/|corpus/|app/document/|app/canvas/|app/gather/|app/cut_out/CutByPointer|app/WindowTest|app/MainJobTest'

FUZZ_SECONDS ?= 60
fuzz: packages
	@$(INSTALL) check
	@cmake --preset fuzz >/dev/null
	@cmake --build --preset fuzz -j $(JOBS)
	@fuzz/run.sh build/fuzz $(FUZZ_SECONDS)

package: build
	@$(INSTALL) package
	@packaging/package.sh $(BUILD)

try-package: package
	@packaging/try-package.sh $$(ls $(BUILD)/hidden-seam_*.deb) build/bare

times:
	@packaging/times.sh
