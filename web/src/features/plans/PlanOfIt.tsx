import { App, Button } from "antd";
import { useNavigate } from "react-router";

import { useRefusal } from "../../kit/useRefusal";
import { usePlanWrites } from "./usePlans";

/** A WO's own plan becomes a job plan in one step, to be written further. */
export function PlanOfIt({
  number,
  revision,
  disabled,
}: {
  number: string;
  revision: number;
  disabled: boolean;
}) {
  const { makeOf } = usePlanWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const go = useNavigate();
  const make = async () => {
    try {
      const plan = await makeOf(number, revision);
      void message.success(`${plan} is made of ${number}, being written`);
      void go(`/work/plans?open=${encodeURIComponent(plan)}`);
    } catch (bad) {
      refuse(`No job plan was made of ${number}`, bad);
    }
  };
  return (
    <Button
      size="small"
      disabled={disabled}
      title="A job plan that says what this WO says, to be written further"
      onClick={() => void make()}
    >
      Make a job plan
    </Button>
  );
}
