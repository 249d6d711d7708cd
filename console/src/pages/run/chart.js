/** The numbers among some values, oldest on the left, the largest on top. */
export function chart(values, width, height) {
    const numbers = values
        .filter((one) => one.value.trim() !== '' && Number.isFinite(Number(one.value)))
        .sort((a, b) => (a.date === b.date ? a.run - b.run : a.date < b.date ? -1 : 1));
    const all = numbers.map((one) => Number(one.value));
    const low = Math.min(...all);
    const range = Math.max(...all) - low || 1;
    return numbers.map((value, index) => ({
        value,
        x: numbers.length === 1 ? width / 2 : (index / (numbers.length - 1)) * width,
        y: height - ((Number(value.value) - low) / range) * height,
    }));
}
