// Runs networks with OpenCV's own runtime, behind a door that is opened at first use: who guesses no subject does not load it.

#include "core/learned/door/network_door.h"

#include <opencv2/core/utils/logger.hpp>
#include <opencv2/dnn.hpp>

namespace hseam::learned::door {
namespace {

class OpenCvNetwork final : public Network {
 public:
  explicit OpenCvNetwork(const cv::dnn::Net& net) : net_(net) {}

  base::Result<std::vector<Tensor>> run(const Tensor& input, const std::vector<std::string>& results) override try {
    // setInput copies what it is given.
    net_.setInput(cv::Mat(input.shape, CV_32F, const_cast<float*>(input.values.data())));
    std::vector<cv::Mat> made;
    net_.forward(made, std::vector<cv::String>(results.begin(), results.end()));
    std::vector<Tensor> out;
    for (const cv::Mat& m : made) {
      Tensor t;
      for (int d = 0; d < m.dims; ++d) t.shape.push_back(m.size[d]);
      t.values.assign(m.ptr<float>(), m.ptr<float>() + m.total());
      out.push_back(std::move(t));
    }
    return out;
  } catch (const cv::Exception&) {
    return base::Error{base::Code::corrupt, "", "the network does not take this picture"};
  } catch (...) {
    return base::caught();
  }

 private:
  cv::dnn::Net net_;
};

class OpenCvDoor final : public Door {
 public:
  base::Result<std::unique_ptr<Network>> read(const std::vector<char>& model) override try {
    // What goes wrong is told by the result; the library prints it as well.
    cv::utils::logging::setLogLevel(cv::utils::logging::LOG_LEVEL_SILENT);
    return std::unique_ptr<Network>(std::make_unique<OpenCvNetwork>(cv::dnn::readNetFromONNX(model.data(), model.size())));
  } catch (const cv::Exception&) {
    return base::Error{base::Code::corrupt, "", "this is not a network that can be run"};
  } catch (...) {
    return base::caught();
  }
};

}  // namespace
}  // namespace hseam::learned::door

extern "C" hseam::learned::door::Door* hseam_network_door() {
  static hseam::learned::door::OpenCvDoor door;
  return &door;
}
