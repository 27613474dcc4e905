/** How practice says minutes, money and points. */
export function minutesWords(minutes: number): string {
  const whole = Math.round(minutes);
  return whole < 60 ? `${String(whole)} min` : `${String(Math.floor(whole / 60))} h ${String(whole % 60).padStart(2, "0")} min`;
}

export function moneyWords(money: number, currency: string): string {
  return `${String(Math.round(money))} ${currency}`;
}

export function pointsWords(points: number): string {
  const whole = Math.round(points);
  return whole < 0 ? `−${String(-whole)}` : String(whole);
}

/** How sure somebody is, in words beside the number: nobody has a feeling for 0.85. */
export function sureWords(sure: number): string {
  if (sure >= 0.97) return "as good as certain";
  if (sure >= 0.85) return "very sure";
  if (sure >= 0.65) return "rather sure";
  if (sure >= 0.45) return "as likely as not";
  if (sure >= 0.2) return "a suspicion";
  return "a guess";
}
