// ELK answers messages by itself when it finds itself in a worker.
import "elkjs/lib/elk-worker.min.js";
