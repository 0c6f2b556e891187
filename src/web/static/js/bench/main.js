// The workbench: each part of it is a module of its own; the server draws the regions.

import { hooks as news } from "../news.js";
import { news as fetchNews } from "./page.js";
import "./fields.js";
import "./carry.js";
import "./cells.js";
import "./clipboard.js";
import "./earth.js";
import "./find.js";
import "./keys.js";
import "./legs.js";
import "./volts.js";

news.fetch = fetchNews;
