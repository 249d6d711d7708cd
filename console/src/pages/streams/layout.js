import dagre from '@dagrejs/dagre';
export const NODE_WIDTH = 196;
export const NODE_HEIGHT = 54;
/** Lays a stream's graph out from left to right, so that what follows stands to the right. */
export function layout(graph) {
    const made = new dagre.graphlib.Graph({ multigraph: true });
    made.setGraph({ rankdir: 'LR', nodesep: 18, ranksep: 104, marginx: 16, marginy: 16 });
    made.setDefaultEdgeLabel(() => ({}));
    graph.nodes.forEach((node) => made.setNode(node.id, { width: NODE_WIDTH, height: NODE_HEIGHT }));
    graph.edges.forEach((edge, index) => made.setEdge(edge.from, edge.to, { width: Math.min(edge.label.length * 6, 96), height: 12 }, String(index)));
    dagre.layout(made);
    const nodes = graph.nodes.map((node) => {
        const at = made.node(node.id);
        return {
            node,
            x: at.x - NODE_WIDTH / 2,
            y: at.y - NODE_HEIGHT / 2,
            width: NODE_WIDTH,
            height: NODE_HEIGHT,
        };
    });
    const edges = graph.edges.map((edge, index) => {
        const at = made.edge({ v: edge.from, w: edge.to, name: String(index) });
        const middle = at.points[Math.floor(at.points.length / 2)] ?? { x: 0, y: 0 };
        return {
            ...edge,
            path: smooth(at.points),
            labelX: at.x ?? middle.x,
            labelY: at.y ?? middle.y,
        };
    });
    const size = made.graph();
    return { nodes, edges, width: size.width ?? 0, height: size.height ?? 0 };
}
/** A path through points with rounded corners. */
export function smooth(points) {
    const [first, ...rest] = points;
    if (!first) {
        return '';
    }
    let path = `M ${first.x} ${first.y}`;
    let before = first;
    for (const point of rest) {
        const middle = (before.x + point.x) / 2;
        path += ` C ${middle} ${before.y}, ${middle} ${point.y}, ${point.x} ${point.y}`;
        before = point;
    }
    return path;
}
