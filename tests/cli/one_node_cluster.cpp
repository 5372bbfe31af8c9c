#include "cli/one_node_cluster.h"

#include <QFile>
#include <QRandomGenerator>
#include <QStandardPaths>
#include <QSysInfo>
#include <QTest>
#include <QThread>

#include <unistd.h>

namespace hseam::test {
namespace {

constexpr int kPatienceMs = 20'000;
// Not Slurm's own ports, on which a real cluster may listen.
constexpr int kControllerPort = 26817, kNodePort = 26818;

QString daemonOf(const QString& name) {
  return QStandardPaths::findExecutable(name, {QStringLiteral("/usr/sbin"), QStringLiteral("/usr/bin")});
}

QString nodeName() {
  return QSysInfo::machineHostName().section(QLatin1Char('.'), 0, 0);
}

}  // namespace

OneNodeCluster::OneNodeCluster() {
  for (const char* name : {"munged", "slurmctld", "slurmd", "sbatch", "sinfo"}) {
    if (daemonOf(QLatin1String(name)).isEmpty()) problem_ = QStringLiteral("%1 is not installed").arg(QLatin1String(name));
  }
  if (problem_.isEmpty() && geteuid() != 0) problem_ = QStringLiteral("its daemons need root");
  if (!problem_.isEmpty()) return;
  configure();
  start(QStringLiteral("munged"),
        {QStringLiteral("--force"), QStringLiteral("--foreground"), QStringLiteral("-S"), at(QStringLiteral("munge.socket")),
         QStringLiteral("--key-file=") + at(QStringLiteral("munge.key")),
         QStringLiteral("--pid-file=") + at(QStringLiteral("munge.pid")),
         QStringLiteral("--log-file=") + at(QStringLiteral("munge.log")),
         QStringLiteral("--seed-file=") + at(QStringLiteral("munge.seed"))});
  if (!QTest::qWaitFor([this] { return QFile::exists(at(QStringLiteral("munge.socket"))); }, kPatienceMs)) {
    problem_ = QStringLiteral("munged does not start");
    return;
  }
  start(QStringLiteral("slurmctld"), {QStringLiteral("-D"), QStringLiteral("-f"), at(QStringLiteral("slurm.conf"))});
  start(QStringLiteral("slurmd"),
        {QStringLiteral("-D"), QStringLiteral("-f"), at(QStringLiteral("slurm.conf")), QStringLiteral("-N"), nodeName()});
  if (!QTest::qWaitFor([this] { return idle(); }, kPatienceMs)) problem_ = QStringLiteral("its node does not become idle");
}

OneNodeCluster::~OneNodeCluster() {
  for (auto d = daemons_.rbegin(); d != daemons_.rend(); ++d) {
    (*d)->terminate();
    if (!(*d)->waitForFinished(kPatienceMs)) (*d)->kill();
  }
}

QProcessEnvironment OneNodeCluster::environment() const {
  QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
  e.insert(QStringLiteral("SLURM_CONF"), at(QStringLiteral("slurm.conf")));
  return e;
}

void OneNodeCluster::configure() {
  QFile key(at(QStringLiteral("munge.key")));
  QByteArray random(1024, '\0');
  for (char& c : random) c = char(QRandomGenerator::system()->bounded(256));
  if (!key.open(QIODevice::WriteOnly) || key.write(random) != random.size() ||
      !key.setPermissions(QFile::ReadOwner | QFile::WriteOwner))
    problem_ = QStringLiteral("no key can be written");
  QFile conf(at(QStringLiteral("slurm.conf")));
  if (!conf.open(QIODevice::WriteOnly)) problem_ = QStringLiteral("no configuration can be written");
  // The daemons' folders must be others' to enter.
  QFile::setPermissions(
      dir_.path(), QFile::permissions(dir_.path()) | QFile::ReadGroup | QFile::ExeGroup | QFile::ReadOther | QFile::ExeOther);
  conf.write(
      QStringLiteral("ClusterName=one\nSlurmctldHost=%1(127.0.0.1)\nSlurmUser=root\nSlurmdUser=root\nAuthType=auth/munge\n"
                     "AuthInfo=socket=%2/munge.socket\nCredType=cred/munge\nStateSaveLocation=%2/state\nSlurmdSpoolDir=%2/spool\n"
                     "SlurmctldPidFile=%2/controller.pid\nSlurmdPidFile=%2/node.pid\nSlurmctldPort=%3\nSlurmdPort=%4\n"
                     "ProctrackType=proctrack/pgid\nTaskPlugin=task/none\nSwitchType=switch/none\nMpiDefault=none\n"
                     "JobAcctGatherType=jobacct_gather/none\nAccountingStorageType=accounting_storage/none\n"
                     "SelectType=select/cons_tres\nSelectTypeParameters=CR_Core\nReturnToService=2\n"
                     "SlurmctldLogFile=%2/controller.log\nSlurmdLogFile=%2/node.log\n"
                     "NodeName=%1 NodeAddr=127.0.0.1 CPUs=%5 State=UNKNOWN\n"
                     "PartitionName=all Nodes=ALL Default=YES MaxTime=INFINITE State=UP\n")
          .arg(nodeName(), dir_.path())
          .arg(kControllerPort)
          .arg(kNodePort)
          .arg(std::max(1, QThread::idealThreadCount()))
          .toUtf8());
}

void OneNodeCluster::start(const QString& program, const QStringList& arguments) {
  daemons_.push_back(std::make_unique<QProcess>());
  daemons_.back()->setProcessEnvironment(environment());
  daemons_.back()->setStandardOutputFile(at(program + QStringLiteral(".out")));
  daemons_.back()->setStandardErrorFile(at(program + QStringLiteral(".err")));
  daemons_.back()->start(daemonOf(program), arguments);
}

bool OneNodeCluster::idle() const {
  QProcess sinfo;
  sinfo.setProcessEnvironment(environment());
  sinfo.start(QStringLiteral("sinfo"), {QStringLiteral("-h"), QStringLiteral("-o"), QStringLiteral("%t")});
  return sinfo.waitForFinished(kPatienceMs) && sinfo.readAllStandardOutput().trimmed() == "idle";
}

}  // namespace hseam::test
