# What is precompiled, by kind; see RaptRoom.cmake. Only headers that never change belong here, and only
# those that most files of a kind take: reading more costs each of them.
set(RT_STD_HEADERS <algorithm> <array> <cmath> <cstdint> <cstring> <filesystem> <functional> <limits> <map>
    <memory> <numeric> <optional> <set> <span> <string> <string_view> <tuple> <utility> <variant> <vector>)
set(RT_CORE_HEADERS <QObject> <QString> <QStringList> <QByteArray> <QList> <QTimer> <QVariant>)
rt_header_kind(std INCLUDE ${RT_STD_HEADERS})
rt_header_kind(json LINK nlohmann_json::nlohmann_json INCLUDE ${RT_STD_HEADERS} <nlohmann/json.hpp>)
rt_header_kind(qt LINK Qt6::Core INCLUDE ${RT_STD_HEADERS} ${RT_CORE_HEADERS})
rt_header_kind(widgets LINK Qt6::Widgets
               INCLUDE ${RT_STD_HEADERS} ${RT_CORE_HEADERS} <QPainter> <QWidget> <QBoxLayout> <QLabel> <QPushButton>
               <QComboBox> <QLineEdit> <QCheckBox> <QListWidget> <QKeyEvent> <QMouseEvent>)
rt_header_kind(command LINK CLI11::CLI11 nlohmann_json::nlohmann_json
               INCLUDE ${RT_STD_HEADERS} <CLI/CLI.hpp> <nlohmann/json.hpp>)
